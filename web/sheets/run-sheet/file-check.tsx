import Button from '@mui/material/Button';
import { useState } from 'react';
import type { RunStep, Values } from '../../../core/index.ts';
import { useSite } from '../../state/analysis.ts';
import { postJson, sentence } from '../../state/api.ts';
import { base64Of, filePrefix, largestFile, sha256Of } from '../../state/sealed-file.ts';
import { useSession } from '../../state/session.ts';
import { useVault, useVaultDialog } from '../../state/vault.ts';

interface Dropped {
  readonly name: string;
  readonly sha256: string;
  readonly bytes: Uint8Array<ArrayBuffer>;
}

/** Steps at which a file is dropped, and whether it goes into the vault. */
const seals: Readonly<Record<string, boolean>> = {
  firmware: false,
  'backup-before': true,
  'backup-after': true,
  restore: false,
};

/** A file of a step: its SHA-256 is computed here, and a settings file is sealed into the vault. */
export function FileCheck({ step, fill }: { step: RunStep; fill: (values: Values) => void }) {
  const site = useSite();
  const session = useSession();
  const { state } = useVault();
  const openVault = useVaultDialog();
  const [file, setFile] = useState<Dropped>();
  const [said, setSaid] = useState('');
  if (!Object.hasOwn(seals, step.id)) return null;
  const take = async (given: File): Promise<void> => {
    if (given.size === 0) {
      setSaid(`${given.name} is empty: it is no file to load, and no way back.`);
      return;
    }
    if (given.size > 512_000_000) {
      setSaid(`${given.name} is larger than 512 MB: that is no file of a router.`);
      return;
    }
    const bytes = new Uint8Array(await given.arrayBuffer());
    const sha256 = await sha256Of(bytes);
    setFile({ name: given.name, sha256, bytes });
    setSaid('');
    const has = (key: string): boolean => step.fields.some((field) => field.key === key);
    fill({
      ...(has('file') && { file: given.name }),
      ...(has('bytes') && { bytes: String(given.size) }),
      ...(has('computed') && { computed: sha256 }),
    });
  };
  const seal = async (): Promise<void> => {
    if (!file) return;
    if (state !== 'open') {
      openVault();
      return;
    }
    const name = `${filePrefix}${file.name.slice(0, 46)} ${file.sha256.slice(0, 8)}`;
    const { kit } = site.router;
    try {
      await postJson('/api/vault/put-file', {
        siteId: session.id,
        name,
        file: {
          name: file.name,
          box: kit?.model ?? '',
          version: kit?.firmware ?? '',
          sha256: file.sha256,
          base64: base64Of(file.bytes),
        },
      });
      fill({ kept: `in the vault: ${name}` });
      setSaid(`Sealed into the vault as "${name}".`);
    } catch (error) {
      setSaid(sentence(error));
    }
  };
  return (
    <div
      className="file-check"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        const [dropped] = event.dataTransfer.files;
        if (!dropped) return;
        event.preventDefault();
        void take(dropped);
      }}
    >
      <label className="file-choose">
        {seals[step.id] ? 'Drop the settings file here, or choose it' : 'Drop the file here, or choose it'}
        <input
          type="file"
          aria-label="File"
          onChange={({ target }) => {
            const [chosen] = target.files ?? [];
            if (chosen) void take(chosen);
          }}
        />
      </label>
      {file && (
        <p className="mono file-sum">
          SHA-256 {file.sha256.match(/.{8}/g)!.join(' ')}
          <span className="quiet"> {file.bytes.length} bytes</span>
        </p>
      )}
      {file && seals[step.id] && file.bytes.length <= largestFile && (
        <Button onClick={() => void seal()}>
          {state === 'open' ? 'Seal it into the vault' : 'Open the vault, to seal it there'}
        </Button>
      )}
      {file && seals[step.id] && file.bytes.length > largestFile && (
        <p>The vault takes files up to 2 MB: keep this one where the customer keeps passwords.</p>
      )}
      {said && <p role="status">{said}</p>}
    </div>
  );
}

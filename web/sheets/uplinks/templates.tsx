import Button from '@mui/material/Button';
import { useState } from 'react';
import useSWR from 'swr';
import { uplinkSchema, type UplinkPlan } from '../../../core/index.ts';
import { keepTemplate, newId, postJson, sentence } from '../../state/api.ts';
import { Select } from '../../parts/inputs.tsx';

interface Kept {
  readonly templates: readonly { readonly name: string; readonly uplink: UplinkPlan }[];
}

const useTemplates = () => useSWR<Kept>('/api/templates');

/** Keeps an uplink for the next site; what is this site's own stays behind. */
export function KeepTemplate({ uplink }: { uplink: UplinkPlan }) {
  const { mutate } = useTemplates();
  const [said, setSaid] = useState('');
  const keep = async (): Promise<void> => {
    const name = uplink.name.trim() || 'Uplink';
    try {
      await keepTemplate(name, uplink);
      await mutate();
      setSaid(`Kept as "${name}": without addresses, user, card and readings.`);
    } catch (error) {
      setSaid(sentence(error));
    }
  };
  return (
    <span className="template">
      <Button className="plain" variant="text" onClick={() => void keep()}>
        Keep as template
      </Button>
      {said && <span role="status">{said}</span>}
    </span>
  );
}

/** Adds an uplink as an earlier one was. */
export function FromTemplate({ add, disabled }: { add: (uplink: UplinkPlan) => void; disabled: boolean }) {
  const { data, mutate } = useTemplates();
  const [chosen, setChosen] = useState('');
  const templates = data?.templates ?? [];
  const template = templates.find(({ name }) => name === chosen);
  if (templates.length === 0) return null;
  const remove = async (): Promise<void> => {
    await postJson('/api/templates/remove', { name: chosen });
    setChosen('');
    await mutate();
  };
  return (
    <span className="template">
      <Select
        className="boxed"
        aria-label="Template"
        value={template ? chosen : ''}
        onChange={({ target }) => setChosen(target.value)}
      >
        <option value="">from a template …</option>
        {templates.map(({ name }) => (
          <option key={name} value={name}>
            {name}
          </option>
        ))}
      </Select>
      {template && (
        <>
          <Button
            disabled={disabled}
            onClick={() => add(uplinkSchema.parse({ ...template.uplink, id: newId() }))}
          >
            Add it
          </Button>
          <Button className="plain" variant="text" onClick={() => void remove()}>
            Forget this template
          </Button>
        </>
      )}
    </span>
  );
}

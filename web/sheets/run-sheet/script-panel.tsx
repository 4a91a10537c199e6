import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import {
  desktops,
  fillSteps,
  formatAddress,
  originOf,
  partsOfStep,
  readTranscript,
  valuesText,
  writeScript,
  type Desktop,
} from '../../../core/index.ts';
import { useAnalysis, useSite } from '../../state/analysis.ts';
import { useAddRecord } from '../../state/records.ts';
import { useSession } from '../../state/session.ts';
import { useVisit } from '../../state/visit.ts';
import { CopyButton } from '../../parts/copy.tsx';
import { download } from '../../parts/download.ts';
import { addToDraft } from './step-draft.ts';
import { Select, TextArea } from '../../parts/inputs.tsx';

/** One short script a network, and one place for what it printed. */
export default function ScriptPanel() {
  const site = useSite();
  const [from, setFrom] = useState(site.networks[0]?.id ?? 'outside');
  const [desktop, setDesktop] = useState<Desktop>('linux');
  const network = site.networks.find(({ id }) => id === from) ?? 'outside';
  const text = writeScript(site, desktop, network);
  return (
    <section className="script-panel" aria-labelledby="scripts">
      <Typography variant="h3" id="scripts">
        Proof by script
      </Typography>
      <p>
        Run it on a laptop that hangs on the network, and paste everything that it prints. It only looks, and
        changes nothing; read it before you run it.
      </p>
      <div className="script-choose">
        <label>
          From
          <Select className="boxed" value={from} onChange={({ target }) => setFrom(target.value)}>
            {site.networks.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
            <option value="outside">an external network</option>
          </Select>
        </label>
        <label>
          On
          <Select
            className="boxed"
            value={desktop}
            onChange={({ target }) => setDesktop(target.value as Desktop)}
          >
            {Object.entries(desktops).map(([id, title]) => (
              <option key={id} value={id}>
                {title}
              </option>
            ))}
          </Select>
        </label>
        <CopyButton value={text} what="script" />
        <Button
          onClick={() =>
            download(
              `netter-${network === 'outside' ? 'outside' : network.id}.${desktop === 'windows' ? 'ps1' : 'sh'}`,
              [text],
              'text/plain',
            )
          }
        >
          Save it as a file
        </Button>
      </div>
      <pre className="script-text mono" tabIndex={0} aria-label="The script">
        {text}
      </pre>
      <PasteBack />
    </section>
  );
}

function PasteBack() {
  const site = useSite();
  const session = useSession();
  const visit = useVisit();
  const analysis = useAnalysis();
  const { add, problem } = useAddRecord();
  const [text, setText] = useState('');
  const [said, setSaid] = useState('');
  if (!visit || !analysis) return null;
  const transcript = readTranscript(text);
  const origin = originOf(site, transcript);
  const found = text.trim() === '' ? [] : fillSteps(site, visit.left, transcript);
  const whole = found.filter(({ complete }) => complete);
  const partly = found.filter(({ complete }) => !complete);
  const take = async (): Promise<void> => {
    const promises = analysis.accepted.map(({ promise }) => promise);
    let taken = 0;
    for (const { step, values, seenFrom } of whole) {
      const done = await add({
        kind: 'tick',
        subject: step.id,
        reading: valuesText(step.fields, values).slice(0, 2000),
        values,
        parts: partsOfStep(site, step, promises),
        seenFrom,
      });
      if (!done) return;
      taken += 1;
    }
    for (const { step, values, seenFrom } of partly) addToDraft(session.id, step.id, values, seenFrom);
    setText('');
    setSaid(
      `${taken} ${taken === 1 ? 'step is' : 'steps are'} recorded${
        partly.length > 0
          ? `; ${partly.length} more ${partly.length === 1 ? 'has' : 'have'} figures and wait for the rest`
          : ''
      }.`,
    );
  };
  const place =
    origin.network && origin.address
      ? `${formatAddress(origin.address)} on ${origin.network.name}`
      : transcript.addresses.length > 0
        ? `${transcript.addresses.map(({ address }) => formatAddress(address)).join(', ')}, on no network of this site`
        : 'no address of the laptop is in it';
  return (
    <div className="paste-back">
      <label className="step-reading">
        What it printed
        <TextArea
          className="boxed mono"
          rows={5}
          value={text}
          maxLength={200_000}
          aria-label="What the script printed"
          onChange={({ target }) => {
            setText(target.value);
            setSaid('');
          }}
        />
      </label>
      {text.trim() !== '' && (
        <>
          <p role="status">
            Taken from {place}
            {origin.line ? `, over ${origin.line.name}` : ', over a line that it does not tell'}.
          </p>
          {origin.contradictions.map((says) => (
            <p key={says} className="caution" role="alert">
              <strong>Contradiction:</strong> {says}
            </p>
          ))}
          {found.length === 0 && <p>Nothing in it answers a step that is open.</p>}
          <ul className="visit-list">
            {[...whole, ...partly].map(({ step, values, complete }) => (
              <li key={step.id}>
                <strong>{step.title}</strong> {complete ? '' : '(incomplete or wrong) '}
                <span className="mono">{valuesText(step.fields, values)}</span>
              </li>
            ))}
          </ul>
          {found.length > 0 && (
            <Button variant="contained" onClick={() => void take()}>
              {whole.length > 0
                ? `Record ${whole.length} ${whole.length === 1 ? 'step' : 'steps'}`
                : 'Put the figures into their steps'}
            </Button>
          )}
        </>
      )}
      {said && <p role="status">{said}</p>}
      {problem && <p role="alert">{problem}</p>}
    </div>
  );
}

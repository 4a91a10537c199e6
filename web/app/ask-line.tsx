import { lazy, Suspense, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { Command } from './ask-search.ts';
import { useAsked } from './asked.ts';
import './ask-line.css';

/** The list of what was found comes when the line is entered for the first time: sheets open without it. */
const AskBox = lazy(async () => ({ default: (await import('./ask-box.tsx')).AskBox }));

/**
 * One line, always at hand, that finds everything: a packet, a field by any of its names, a device, a finding, a
 * command, another site.
 */
export function AskLine({ commands }: { commands: readonly Command[] }) {
  const asked = useAsked();
  const [entered, setEntered] = useState(false);
  const [typed, setTyped] = useState<string>();
  useHotkeys('mod+k', () => setEntered(true), { enableOnFormTags: true, preventDefault: true });
  const waiting = (
    <div className="ask-line">
      <div className="ask-box" role="search">
        <label htmlFor="ask">Ask</label>
        <input
          id="ask"
          className="mono"
          value={typed ?? asked}
          placeholder="a packet, a field, a device, a finding …"
          autoComplete="off"
          spellCheck={false}
          maxLength={600}
          // Entered by key, it is typed in before its list has come.
          autoFocus={entered}
          onFocus={() => setEntered(true)}
          onChange={({ target }) => setTyped(target.value)}
        />
        <kbd>Ctrl K</kbd>
      </div>
    </div>
  );
  if (!entered) return waiting;
  return (
    <Suspense fallback={waiting}>
      <AskBox commands={commands} typed={typed ?? asked} />
    </Suspense>
  );
}

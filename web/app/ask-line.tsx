import { lazy, Suspense, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { useLocation, useSearchParams } from 'react-router';
import type { Command } from './ask-search.ts';
import './ask-line.css';

/** The list of what was found comes when the line is entered for the first time: sheets open without it. */
const AskBox = lazy(async () => ({ default: (await import('./ask-box.tsx')).AskBox }));

/** The question that the sheet Ask answers; empty on other sheets. */
export function useAsked(): string {
  const { pathname } = useLocation();
  const [search] = useSearchParams();
  return pathname.endsWith('/ask') ? (search.get('q') ?? '') : '';
}

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

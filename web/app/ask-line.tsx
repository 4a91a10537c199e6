import { useEffect, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { useLocation, useNavigate, useSearchParams } from 'react-router';
import { useAnalysis } from './analysis.ts';
import { useSession } from './session.ts';

/** One line, always at hand, for a question about one packet. */
export function AskLine() {
  const session = useSession();
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const [search] = useSearchParams();
  const asked = pathname.endsWith('/ask') ? (search.get('q') ?? '') : '';
  const [text, setText] = useState(asked);
  const input = useRef<HTMLInputElement>(null);
  const names = useAnalysis()?.names ?? [];
  useEffect(() => {
    if (asked !== '') setText(asked);
  }, [asked]);
  useHotkeys(
    'mod+k',
    () => {
      input.current?.focus();
      input.current?.select();
    },
    { enableOnFormTags: true, preventDefault: true },
  );
  // Names are offered for the word being typed, after "from" or "to".
  const open = /^(.*\b(?:from|to|when)\s+)([^\s]*)$/i.exec(text);
  const offers = open
    ? names.filter((name) => name.startsWith(open[2]!.toLowerCase())).map((name) => `${open[1]}${name}`)
    : [];
  return (
    <form
      className="ask-line"
      role="search"
      onSubmit={(event) => {
        event.preventDefault();
        if (text.trim() !== '')
          void navigate(`/sites/${session.id}/ask?q=${encodeURIComponent(text.trim())}`);
      }}
    >
      <label htmlFor="ask">Ask</label>
      <input
        id="ask"
        ref={input}
        className="mono"
        list="ask-names"
        value={text}
        onChange={(event) => setText(event.target.value)}
        placeholder="from office to internet tcp 443"
        autoComplete="off"
        spellCheck={false}
      />
      <datalist id="ask-names">
        {offers.slice(0, 12).map((offer) => (
          <option key={offer} value={offer} />
        ))}
      </datalist>
      <kbd>Ctrl K</kbd>
    </form>
  );
}

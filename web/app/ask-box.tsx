import Autocomplete from '@mui/material/Autocomplete';
import { useEffect, useMemo, useRef, useState, type ComponentProps, type Ref } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { useNavigate } from 'react-router';
import useSWR from 'swr';
import type { SiteRow } from '../state/api.ts';
import { useAnalysis } from '../state/analysis.ts';
import { findEverything, type Command, type Found } from './ask-search.ts';
import { kept } from '../state/kept.ts';
import { useFocus } from '../state/focus.ts';
import { usePlan, useSession } from '../state/session.ts';
import { useAsked } from './asked.ts';
import './ask-line.css';

const keptAs = 'netter-asked';
const mostRecent = 6;

function recentOf(siteId: string): string[] {
  try {
    const before: unknown = JSON.parse(kept.getItem(`${keptAs} ${siteId}`) ?? '[]');
    return Array.isArray(before) ? before.filter((each): each is string => typeof each === 'string') : [];
  } catch {
    return [];
  }
}

/** What was asked last comes first; what fits is found while it is typed. */
export function AskBox({ commands, typed: begun }: { commands: readonly Command[]; typed: string }) {
  const session = useSession();
  const plan = usePlan();
  const analysis = useAnalysis();
  const navigate = useNavigate();
  const { goTo } = useFocus();
  const asked = useAsked();
  const [typed, setTyped] = useState(begun);
  // Typed before the list had come: it opens at once.
  const [open, setOpen] = useState(begun !== '');
  const [recent, setRecent] = useState(() => recentOf(session.id));
  const input = useRef<HTMLInputElement>(null);
  const last = useRef(asked);
  useEffect(() => {
    if (asked !== '' && asked !== last.current) setTyped(asked);
    last.current = asked;
  }, [asked]);
  useEffect(() => {
    input.current?.focus();
  }, []);
  useHotkeys(
    'mod+k',
    () => {
      input.current?.focus();
      input.current?.select();
    },
    { enableOnFormTags: true, preventDefault: true },
  );
  const wanted = typed.trim();
  const { data } = useSWR<{ rows: SiteRow[] }>(
    wanted.length > 1 && !/ to /i.test(wanted)
      ? `/api/sites?limit=4&search=${encodeURIComponent(wanted)}`
      : null,
    { keepPreviousData: true },
  );
  const ask = (question: string): void => {
    const next = [question, ...recent.filter((each) => each !== question)].slice(0, mostRecent);
    setRecent(next);
    kept.setItem(`${keptAs} ${session.id}`, JSON.stringify(next));
    void navigate(`/sites/${session.id}/ask?q=${encodeURIComponent(question)}`);
  };
  const found = useMemo(
    () =>
      findEverything(
        typed,
        {
          plan,
          findings: analysis?.findings ?? [],
          names: analysis?.names ?? [],
          recent,
          commands,
          sites: (data?.rows ?? []).filter(({ id }) => id !== session.id),
        },
        {
          ask,
          goTo,
          open: (path) => void navigate(path.startsWith('/') ? path : `/sites/${session.id}/${path}`),
        },
      ),
    // What the ways do does not change with what is drawn.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [typed, plan, analysis, recent, commands, data, session],
  );
  const take = (chosen: Found | string | null): void => {
    if (chosen === null) return;
    if (typeof chosen !== 'string') {
      chosen.run();
      if (!chosen.group.startsWith('A packet') && chosen.group !== 'Recent') setTyped('');
    } else if (/ to \S/i.test(chosen)) ask(chosen.trim());
    else if (found[0]) take(found[0]);
    else if (chosen.trim() !== '') ask(chosen.trim());
    input.current?.blur();
  };
  return (
    <Autocomplete
      freeSolo
      className="ask-line"
      options={found}
      filterOptions={(options) => options}
      groupBy={(option) => option.group}
      getOptionLabel={(option) => (typeof option === 'string' ? option : option.title)}
      getOptionKey={(option) => (typeof option === 'string' ? option : option.id)}
      inputValue={typed}
      value={null}
      open={open}
      onOpen={() => setOpen(true)}
      onClose={() => setOpen(false)}
      blurOnSelect
      onInputChange={(_, value, reason) => {
        if (reason === 'input' || reason === 'clear') setTyped(value);
      }}
      onChange={(_, chosen) => take(chosen)}
      slotProps={{ listbox: { className: 'ask-list' } }}
      renderOption={({ key, ...props }, option) => (
        <li key={key} {...props}>
          <span className={/packet|Recent/.test(option.group) ? 'mono' : undefined}>{option.title}</span>
          {option.detail !== '' && <span className="quiet">{option.detail}</span>}
        </li>
      )}
      renderInput={({ slotProps: { input: box, htmlInput } }) => {
        const { ref, ...rest } = htmlInput as ComponentProps<'input'>;
        return (
          <div ref={box.ref as Ref<HTMLDivElement>} className="ask-box" role="search">
            <label htmlFor={rest.id}>Ask</label>
            <input
              {...rest}
              ref={(element) => {
                input.current = element;
                if (typeof ref === 'function') void ref(element);
                else if (ref) ref.current = element;
              }}
              className="mono"
              placeholder="a packet, a field, a device, a finding …"
              maxLength={600}
              spellCheck={false}
            />
            <kbd>Ctrl K</kbd>
          </div>
        );
      }}
    />
  );
}

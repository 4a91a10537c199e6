import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { lazy, Suspense, useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import useSWR from 'swr';
import { askProvider, emptyPlan, patterns, type Answers } from '../../core/index.ts';
import { createSite, newId, sentence } from '../state/api.ts';
import { LookButton } from '../parts/look-button.tsx';
import { isSignedOut, SignIn } from '../parts/sign-in.tsx';
import { waitingSecrets } from '../state/waiting-secrets.ts';
import { useBrief } from './use-brief.ts';
import { dropDraft, keepDraft, loadDraft } from './brief-draft.ts';
import { Outcome } from './outcome.tsx';
import { QuestionCard } from './question-card.tsx';
import { Understood } from './understood.tsx';
import { TextArea } from '../parts/inputs.tsx';
import './brief.css';

/** Its list of sites weighs more than the rest of the page. */
const FromSite = lazy(async () => ({ default: (await import('./from-site.tsx')).FromSite }));

const example =
  'Paste the letter of the provider, an order, a list of devices, the pages of the old router. Or write a sentence:\n\nbakery, fibre with user name on VLAN 7, cellular backup, till, two cameras, owner wants in from home';

/** A new site begins here: paste what there is, answer the questions, and have a whole plan. */
export function Component() {
  const navigate = useNavigate();
  const [draft] = useState(loadDraft);
  const [text, setText] = useState(draft.text);
  const [answers, setAnswers] = useState<Answers>(draft.answers);
  /** An answered question that is open again. */
  const [again, setAgain] = useState<string>();
  const [editing, setEditing] = useState(draft.text.trim() === '');
  const [problem, setProblem] = useState('');
  const [copying, setCopying] = useState(false);
  const field = useRef<HTMLTextAreaElement>(null);
  const habits = useSWR<{ probes: string[] }>('/api/habits');
  const probes = habits.data?.probes;
  const result = useBrief(text, answers, probes);
  useEffect(() => {
    document.title = 'New site · Netter';
  }, []);
  useEffect(() => {
    if (result?.text === text) keepDraft({ text, answers }, result.brief.secrets);
  }, [text, answers, result]);

  const begun = text.trim() !== '';
  const questions = result?.questions ?? [];
  const open = questions.filter(
    ({ id, answer, problem }) => answer === undefined || problem !== undefined || id === again,
  );
  const current = open.find(({ id }) => id === again) ?? open[0];
  const answer = (id: string, value: string): void => {
    setAnswers({ ...answers, [id]: value });
    setAgain(undefined);
    if (begun) setEditing(false);
  };
  const empty = async (): Promise<void> => {
    try {
      const { id } = await createSite(emptyPlan('New site', newId));
      await navigate(`/sites/${id}/site`);
    } catch (error) {
      setProblem(sentence(error));
    }
  };
  const make = async (): Promise<void> => {
    try {
      if (!result) return;
      const { id } = await createSite(result.plan);
      waitingSecrets.set([
        ...waitingSecrets.get(),
        ...result.secrets.map((secret) => ({ ...secret, siteId: id })),
      ]);
      dropDraft();
      await navigate(`/sites/${id}/picture`);
    } catch (error) {
      setProblem(sentence(error));
    }
  };
  if (isSignedOut(habits.error)) return <SignIn done={() => void habits.mutate()} />;
  return (
    <main className="page brief">
      <header className="page-head">
        <Typography variant="h1">New site</Typography>
        <p className="quiet">
          Paste what you have, answer the questions. Nothing is saved before you make the site.
        </p>
        <Link to="/" className="page-link">
          Sites
        </Link>
        <LookButton />
      </header>
      <div className="brief-columns">
        <section aria-label="What you have">
          <div className="brief-head">
            <Typography variant="h2">What you have</Typography>
            {begun && (
              <Button onClick={() => setEditing(!editing)}>
                {editing ? 'Show what was understood' : 'Edit the text'}
              </Button>
            )}
          </div>
          {editing || !begun ? (
            <TextArea
              ref={field}
              className="brief-text"
              aria-label="What you have of the site"
              value={text}
              rows={begun ? 18 : 8}
              placeholder={example}
              maxLength={100_000}
              autoFocus
              spellCheck={false}
              onChange={({ target }) => setText(target.value)}
              onPaste={({ currentTarget }) => {
                // Pasted into an empty page: what was understood is what one wants to see next.
                if (currentTarget.value === '') setTimeout(() => setEditing(false));
              }}
            />
          ) : (
            result && <Understood text={result.text} brief={result.brief} />
          )}
          {!begun && (
            <div className="brief-start">
              <Typography variant="h3">Or start from</Typography>
              <div className="brief-patterns">
                {patterns.map(({ title, text: pattern }) => (
                  <Button
                    key={title}
                    onClick={() => {
                      setText(pattern);
                      setEditing(false);
                    }}
                  >
                    {title}
                  </Button>
                ))}
              </div>
              {copying ? (
                <Suspense fallback={<p className="quiet">Opening …</p>}>
                  <FromSite fail={setProblem} />
                </Suspense>
              ) : (
                <div className="row-actions">
                  <Button onClick={() => setCopying(true)}>Copy an existing site …</Button>
                </div>
              )}
              <div className="row-actions">
                <Button onClick={() => void empty()}>An empty site</Button>
                <span className="quiet">Or leave it empty and answer the questions to the right.</span>
              </div>
            </div>
          )}
        </section>
        <section className="brief-right" aria-label="Questions and outcome">
          {!result ? (
            <p className="quiet">Reading …</p>
          ) : current ? (
            <QuestionCard
              key={`${current.id} ${current.problem ?? ''}`}
              question={current}
              problem={current.problem}
              number={questions.indexOf(current) + 1}
              of={questions.length}
              answer={(value) => answer(current.id, value)}
            />
          ) : (
            <section className="question">
              <Typography variant="h2">No open questions</Typography>
              <p className="quiet">Questions for the provider are on the call sheet.</p>
            </section>
          )}
          {result && (
            <Outcome
              plan={result.plan}
              findings={result.findings}
              make={() => void make()}
              open={open.length}
            />
          )}
          {problem !== '' && <p role="alert">{problem}</p>}
          <Answered
            questions={questions.filter(({ answer }) => answer !== undefined)}
            change={(id) => {
              setAgain(id);
            }}
          />
        </section>
      </div>
    </main>
  );
}

function Answered({
  questions,
  change,
}: {
  questions: readonly {
    id: string;
    asks: string;
    answer: string | undefined;
    likely: string;
    choices: readonly { value: string; title: string }[];
  }[];
  change: (id: string) => void;
}) {
  if (questions.length === 0) return null;
  return (
    <section className="answered" aria-label="Answered">
      <Typography variant="h3">Answered</Typography>
      <ul>
        {questions.map(({ id, asks, answer, likely, choices }) => {
          const given = answer === '' ? likely : answer!;
          const title =
            choices.find(({ value }) => value === given)?.title ??
            (given === askProvider ? 'ask the provider' : given);
          return (
            <li key={id}>
              <span>{asks}</span>
              <button
                type="button"
                className="answered-value"
                onClick={() => change(id)}
                title="Answer it again"
              >
                {answer === '' ? `skipped: ${title}` : title}
              </button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import { askProvider, type BriefQuestion } from '../../core/index.ts';
import { Input } from '../parts/inputs.tsx';

/** One question: the likely answer first, each with what it changes; by key, by click, or typed. */
export function QuestionCard({
  question,
  problem,
  number,
  of,
  answer,
}: {
  question: BriefQuestion;
  problem: string | undefined;
  number: number;
  of: number;
  answer: (value: string) => void;
}) {
  const [typed, setTyped] = useState('');
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const card = useRef<HTMLElement>(null);
  const input = useRef<HTMLInputElement>(null);
  const choices = [
    ...question.choices.filter(({ value }) => value === question.likely),
    ...question.choices.filter(({ value }) => value !== question.likely),
  ];
  // The card has the focus, so that a figure or Enter answers at once; without choices it is typed.
  const first = choices.length === 0;
  useEffect(() => {
    if (number > 1 || document.activeElement === document.body)
      (first ? input.current : card.current)?.focus({ preventScroll: true });
  }, [question.id, first, number]);
  const pick = (value: string): void => {
    if (!question.several || value === question.likely) answer(value);
    else setChosen(chosen.includes(value) ? chosen.filter((each) => each !== value) : [...chosen, value]);
  };
  const send = (): void => {
    if (typed.trim() !== '') answer(typed.trim());
    else if (chosen.length > 0) answer(chosen.join(','));
    else answer(question.likely);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.target instanceof HTMLInputElement) {
      if (event.key === 'Enter') send();
      return;
    }
    const choice = choices[Number(event.key) - 1];
    if (choice) pick(choice.value);
    else if (event.key === 'Enter' && event.target === card.current) send();
    else if (event.key.toLowerCase() === 's') answer('');
    else if (event.key.toLowerCase() === 'p' && question.provider) answer(askProvider);
    else return;
    event.preventDefault();
  };
  return (
    <section
      ref={card}
      className="question"
      aria-label={`Question ${number} of ${of}`}
      tabIndex={-1}
      onKeyDown={onKeyDown}
    >
      <p className="question-count">
        Question {number} of {of}
      </p>
      <Typography variant="h2">{question.asks}</Typography>
      <p className="quiet">{question.why}</p>
      {choices.length > 0 && (
        <ol className="question-choices">
          {choices.map(({ value, title, changes }, index) => (
            <li key={value}>
              <button
                type="button"
                aria-pressed={question.several ? chosen.includes(value) : undefined}
                onClick={() => pick(value)}
              >
                <kbd>{index + 1}</kbd>
                <span>
                  <strong>{title}</strong>
                  {value === question.likely && <span className="tag">likely</span>}
                  <span className="question-changes">
                    {[changes, value === question.likely ? question.because : '']
                      .filter((text) => text !== '')
                      .join(' ')}
                  </span>
                </span>
              </button>
            </li>
          ))}
        </ol>
      )}
      {question.typed && (
        <label className="question-typed">
          <span>{question.typed.term}</span>
          <Input
            ref={input}
            className="boxed mono"
            value={typed}
            placeholder={question.typed.example}
            autoComplete="off"
            spellCheck={false}
            maxLength={255}
            aria-invalid={problem !== undefined}
            onChange={({ target }) => setTyped(target.value)}
          />
        </label>
      )}
      {problem !== undefined && <p role="alert">{problem}</p>}
      {choices.length === 0 && <p className="quiet">{question.because}</p>}
      <div className="row-actions">
        <Button variant="contained" onClick={send}>
          {typed.trim() !== '' || chosen.length > 0
            ? 'Take it'
            : question.likely === askProvider
              ? 'Ask the provider'
              : 'Use likely answer'}
        </Button>
        {question.provider && question.likely !== askProvider && (
          <Button onClick={() => answer(askProvider)}>Ask the provider</Button>
        )}
        <Button className="plain" variant="text" onClick={() => answer('')}>
          Skip
        </Button>
        <span className="quiet question-keys">
          <kbd>Enter</kbd> takes it <kbd>S</kbd> skips
        </span>
      </div>
    </section>
  );
}

import { mdiArrowRightThin } from '@mdi/js';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { Fragment, useEffect, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import {
  describeField,
  labelAt,
  pointersOf,
  searchFields,
  type Answer,
  type HopText,
  type Outcome,
  type Result,
} from '../../../core/index.ts';
import { analysisWorker, useAnalysis } from '../../state/analysis.ts';
import { useFocus } from '../../state/focus.ts';
import { usePlan } from '../../state/session.ts';
import { Icon } from '../../parts/severity.tsx';
import { SheetHead } from '../../parts/sheet-head.tsx';
import './ask.css';

const outcomeWords: Record<Outcome, { word: string; good: boolean }> = {
  delivered: { word: 'Delivered', good: true },
  hairpin: { word: 'Delivered by hairpin NAT', good: true },
  refused: { word: 'Refused', good: false },
  dropped: { word: 'Dropped', good: false },
  'no-route': { word: 'No route', good: false },
  impossible: { word: 'Not possible', good: false },
};

export function Component() {
  const [search] = useSearchParams();
  const question = search.get('q') ?? '';
  const analysis = useAnalysis();
  const [result, setResult] = useState<Result<Answer>>();
  const isQuestion = / to /i.test(question);
  useEffect(() => {
    if (!isQuestion || !analysis) return undefined;
    let current = true;
    void analysisWorker()
      .ask(question)
      .then((found) => {
        if (current) setResult(found);
      });
    return () => {
      current = false;
    };
  }, [question, isQuestion, analysis]);
  return (
    <>
      <SheetHead
        title="Ask"
        says={
          question === '' ? (
            'Follow one packet through the site, hop by hop, out and back; or look up a term.'
          ) : (
            <span className="mono">{question}</span>
          )
        }
      />
      {question === '' && <Examples />}
      {question !== '' && !isQuestion && <Terms typed={question} />}
      {isQuestion && result && !result.ok && (
        <p role="alert" className="note">
          {result.problem.says}
        </p>
      )}
      {isQuestion && result?.ok && <AnswerView answer={result.value} />}
    </>
  );
}

function Examples() {
  const names = useAnalysis()?.names ?? [];
  const [network] = names.filter((name) => name !== 'internet' && name !== 'router');
  const questions = [
    `from ${network ?? 'office'} to internet tcp 443`,
    `from internet to router tcp 443`,
    `from ${network ?? 'office'} to internet ping`,
  ];
  return (
    <ul className="examples">
      {questions.map((question) => (
        <li key={question}>
          <Link className="mono" to={`?q=${encodeURIComponent(question)}`}>
            {question}
          </Link>
        </li>
      ))}
    </ul>
  );
}

/** Fields that are called so, here or on a device, and where they stand on this site. */
function Terms({ typed }: { typed: string }) {
  const plan = usePlan();
  const focus = useFocus();
  const found = searchFields(typed).slice(0, 12);
  if (found.length === 0)
    return (
      <p role="alert" className="note">
        No field is called &quot;{typed}&quot;, here or on a device. A question about a packet has the form:
        from office to internet tcp 443.
      </p>
    );
  return (
    <dl className="terms">
      {found.map(({ at, field }) => (
        <Fragment key={at}>
          <dt>{field.term}</dt>
          <dd>
            {describeField(field)}
            {field.alsoCalled.length > 0 && (
              <span className="quiet"> Also called: {field.alsoCalled.join(', ')}.</span>
            )}{' '}
            {pointersOf(plan, at)
              .slice(0, 4)
              .map((place) => (
                <Button key={place} className="plain" variant="text" onClick={() => focus.goTo(place)}>
                  {labelAt(plan, place)}
                </Button>
              ))}
          </dd>
        </Fragment>
      ))}
    </dl>
  );
}

function AnswerView({ answer }: { answer: Answer }) {
  const { word, good } = outcomeWords[answer.outcome];
  return (
    <>
      <p className={`verdict ${good ? 'verdict-good' : 'verdict-bad'}`} role="status">
        <strong>{word}.</strong> {answer.says}
      </p>
      <HopTable title="Forward path" hops={answer.hops} />
      {answer.reply.length > 0 && <HopTable title="Return path" hops={answer.reply} />}
    </>
  );
}

function HopTable({ title, hops }: { title: string; hops: readonly HopText[] }) {
  const focus = useFocus();
  return (
    <section className="hops">
      <Typography variant="h3">{title}</Typography>
      <Table>
        <TableHead>
          <TableRow>
            <TableCell>Where</TableCell>
            <TableCell>Table entry</TableCell>
            <TableCell>Decision</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {hops.map((hop, index) => {
            const sameNode = hops[index - 1]?.node === hop.node;
            return (
              <TableRow
                key={`${hop.node}${hop.stage}`}
                className={`hop hop-${hop.kind} ${hop.stops ? 'hop-stops' : ''} ${sameNode ? 'hop-same' : ''}`}
              >
                <TableCell component="th" scope="row">
                  {!sameNode && <span className="hop-node">{hop.node}</span>}
                  <span className="hop-stage">{hop.stage}</span>
                </TableCell>
                <TableCell>
                  <span className="mono">{hop.looked}</span>
                </TableCell>
                <TableCell>
                  {hop.decided}
                  {hop.at !== undefined && (
                    <IconButton
                      size="small"
                      className="row-button hop-go"
                      aria-label={`Go to what decided: ${hop.stage}`}
                      title="Go to what decided"
                      onFocus={() => focus.place.set(hop.at!)}
                      onClick={() => focus.goTo(hop.at!)}
                    >
                      <Icon path={mdiArrowRightThin} />
                    </IconButton>
                  )}
                  {hop.changed && (
                    <div className="hop-header mono">
                      <del>{hop.before}</del> <ins>{hop.after}</ins>
                    </div>
                  )}
                  {!hop.changed && index === 0 && <div className="hop-header mono">{hop.before}</div>}
                </TableCell>
              </TableRow>
            );
          })}
        </TableBody>
      </Table>
    </section>
  );
}

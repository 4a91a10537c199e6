import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import { wifiBands, type WidthAdvice } from '../../../core/index.ts';
import { analysisWorker, useAnalysis, useSite, useStanding } from '../../state/analysis.ts';
import { useSession } from '../../state/session.ts';
import type { ChannelAdvice as Advice } from '../../workers/analysis.worker.ts';
import './wifi.css';

/** Channels and widths that suit all radios of the site together, and a way to take them. */
export function ChannelAdvice() {
  const session = useSession();
  const analysis = useAnalysis();
  const { radios } = useSite().wifi;
  const standing = useStanding();
  const [answer, setAnswer] = useState<{
    readonly of: typeof analysis;
    readonly advice: Advice | undefined;
  }>();
  useEffect(() => {
    let current = true;
    void analysisWorker()
      .channels()
      .then(
        (advice) => current && setAnswer({ of: analysis, advice }),
        () => current && setAnswer(undefined),
      );
    return () => {
      current = false;
    };
  }, [analysis]);
  const advice = answer?.advice;
  if (!advice) return null;
  // While the plan is ahead of the answer nothing is taken from it; what was removed since is left out.
  const ahead = standing !== 'done' || answer.of !== analysis;
  const placed = (choices: Advice['best']['choices']) =>
    choices.flatMap(({ radio: id, channel }) => {
      const radio = radios.find((each) => each.id === id);
      return radio ? [{ radio, channel }] : [];
    });
  const known = placed(advice.best.choices);
  if (known.length === 0) return null;
  const differs = known.some(({ radio, channel }) => radio.channel !== channel);
  const takeWidth = ({ best }: WidthAdvice): void => {
    session.editAll(
      Object.fromEntries(
        placed(best.choices).flatMap(({ radio, channel }) => [
          [`${radio.at}/width`, String(best.width)],
          [`${radio.at}/channel`, channel],
        ]),
      ),
    );
  };
  const wider = advice.widths.filter(({ best }) =>
    placed(best.choices).some(({ radio }) => radio.width !== best.width),
  );
  return (
    <>
      <div className="wifi-best">
        <p>
          Least busy for all together:{' '}
          <strong>{known.map(({ radio, channel }) => `${radio.name} on ${channel}`).join('; ')}</strong>.
          Others then take {Math.round((advice.best.busy / known.length) * 100)} % of the time of each on
          average
          {advice.best.exact ? '.' : ', as far as was searched.'}
        </p>
        {differs && (
          <Button
            disabled={ahead}
            onClick={() =>
              session.editAll(
                Object.fromEntries(known.map(({ radio, channel }) => [`${radio.at}/channel`, channel])),
              )
            }
          >
            Take these channels
          </Button>
        )}
      </div>
      {wider.map((width) => (
        <div key={width.band} className="wifi-best">
          <p>
            Width in {wifiBands[width.band]}: <strong>{width.best.width} MHz</strong> suits these radios best,
            on {width.best.choices.map(({ channel }) => channel).join(', ')}
            {width.options.length > 1 &&
              `: ${width.options.map((each) => `${each.width} MHz ${Math.round(each.mbps)} Mb/s`).join(', ')} a radio, close by on one stream`}
            . The field Channel width shows the sum.
          </p>
          <Button disabled={ahead} onClick={() => takeWidth(width)}>
            Take {width.best.width} MHz
          </Button>
        </div>
      ))}
    </>
  );
}

import Button from '@mui/material/Button';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useTheme } from '@mui/material/styles';
import { useMemo, useState } from 'react';
import {
  Bar,
  BarChart,
  CartesianGrid,
  ErrorBar,
  LabelList,
  ResponsiveContainer,
  XAxis,
  YAxis,
} from 'recharts';
import {
  experimentOrder,
  judgeSurvey,
  pairProblem,
  parseCellular,
  surveyGroups,
  surveyReading,
  type Survey,
  type SurveyGroup,
  type SurveyReading,
} from '../../../core/index.ts';
import { newId } from '../../state/api.ts';
import { usePlanPiece, useSession } from '../../state/session.ts';
import { Field } from '../../parts/field.tsx';
import { RemoveButton, RowTable, useRows } from '../../parts/rows.tsx';
import { WorkedSum } from '../../parts/worked.tsx';
import { Input, Select } from '../../parts/inputs.tsx';
import './uplinks.css';

/** The logbook of a cellular line: readings, what they say, and the order of an experiment. */
export default function SurveySection({ index }: { index: number }) {
  const at = `/uplinks/${index}/media/cellular/readings` as const;
  const session = useSession();
  const settings = usePlanPiece((plan) => plan.uplinks[index]?.media.cellular);
  const { ids, add, addAll, remove } = useRows<SurveyReading>(at);
  const timeZone = usePlanPiece((plan) => plan.site.timeZone);
  const [by, setBy] = useState<SurveyGroup>('place');
  const survey = useMemo(
    () => settings && judgeSurvey(settings.readings, settings.widthMHz, by, timeZone),
    [settings, by, timeZone],
  );
  if (!settings || !survey) return null;
  const paste = (text: string): string[] => {
    const { readings, notes } = parseCellular(text);
    const last = settings.readings.at(-1);
    addAll(
      readings.map((figures) =>
        surveyReading.parse({
          id: newId(),
          place: last?.place ?? '',
          ...sameAntenna(last),
          takenAt: new Date().toISOString(),
          ...figures,
        }),
      ),
    );
    return [`${readings.length} reading${readings.length === 1 ? '' : 's'} added.`, ...notes];
  };
  return (
    <section className="survey" data-at={at} tabIndex={-1} aria-label="Survey">
      <Typography variant="h4" className="sub">
        Survey
        <label className="survey-by">
          compared by{' '}
          <Select className="boxed" value={by} onChange={({ target }) => setBy(target.value as SurveyGroup)}>
            {surveyGroups.map((group) => (
              <option key={group} value={group}>
                {group}
              </option>
            ))}
          </Select>
        </label>
      </Typography>
      <SurveyVerdict survey={survey} />
      <RowTable
        at={at}
        columns={[
          ['place', 'm'],
          ['antenna', 's'],
          ['channel', 'xs'],
          ['rsrpDbm', 'xxs'],
          ['rsrqDb', 'xxs'],
          ['sinrDb', 'xxs'],
          ['rssiDbm', 'xxs'],
          ['downMbps', 'xxs'],
          ['upMbps', 'xxs'],
        ]}
        add={() =>
          add(
            surveyReading.parse({
              id: newId(),
              place: settings.readings.at(-1)?.place ?? '',
              ...sameAntenna(settings.readings.at(-1)),
              takenAt: new Date().toISOString(),
            }),
            'place',
          )
        }
        addLabel="Add a reading"
        paste={paste}
        pasteHint="What the modem prints: +CSQ, +CESQ, lines like RSRP: -98, or a table with a heading. An empty line begins the next reading."
        empty="No reading yet. Bars are no evidence: take RSRP, RSRQ and SINR at three places, three times each, and a speed run at each."
      >
        {ids.map((id, row) => (
          <ReadingRow
            key={id}
            at={`${at}/${row}`}
            row={row}
            wrong={survey.impossible.find((each) => each.index === row)?.says}
            remove={remove}
          />
        ))}
      </RowTable>
      <Experiment
        bands={settings.bands}
        pairs={settings.pairs}
        take={(order) => {
          // What the modem is set to now is written down before the first run changes it.
          session.editAll({
            [at.replace(/readings$/, 'restoreBands')]: settings.bands || 'all bands',
            [at]: [
              ...settings.readings,
              ...order.map((antenna) =>
                surveyReading.parse({ id: newId(), place: settings.readings.at(-1)?.place ?? '', antenna }),
              ),
            ],
          });
        }}
      />
    </section>
  );
}

/** The next reading is mostly taken with the antenna of the last one. */
const sameAntenna = (last: SurveyReading | undefined): Partial<SurveyReading> =>
  last
    ? {
        antenna: last.antenna,
        heightMetres: last.heightMetres,
        gainDbi: last.gainDbi,
        cable: last.cable,
        cableMetres: last.cableMetres,
      }
    : {};

function ReadingRow({
  at,
  row,
  wrong,
  remove,
}: {
  at: `/uplinks/${number}/media/cellular/readings/${number}`;
  row: number;
  wrong: string | undefined;
  remove: (row: number) => void;
}) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <TableRow data-at={at} tabIndex={-1}>
        <TableCell>
          <Field bare at={`${at}/place`} />
        </TableCell>
        <TableCell>
          <Field bare at={`${at}/antenna`} />
        </TableCell>
        <TableCell>
          <Field bare at={`${at}/channel`} />
        </TableCell>
        <TableCell>
          <Field bare at={`${at}/rsrpDbm`} />
        </TableCell>
        <TableCell>
          <Field bare at={`${at}/rsrqDb`} />
        </TableCell>
        <TableCell>
          <Field bare at={`${at}/sinrDb`} />
        </TableCell>
        <TableCell>
          <Field bare at={`${at}/rssiDbm`} />
        </TableCell>
        <TableCell>
          <Field bare at={`${at}/downMbps`} />
        </TableCell>
        <TableCell>
          <Field bare at={`${at}/upMbps`} />
        </TableCell>
        <TableCell>
          <Button
            className="plain"
            variant="text"
            aria-expanded={open}
            aria-label={`${open ? 'Less' : 'More'} of reading ${row + 1}`}
            onClick={() => setOpen(!open)}
          >
            {open ? 'less' : 'more'}
          </Button>
        </TableCell>
      </TableRow>
      {open && (
        <TableRow className="row-more">
          <TableCell colSpan={10}>
            <div className="ledger">
              <Field at={`${at}/heightMetres`} />
              <Field at={`${at}/gainDbi`} />
              <Field at={`${at}/cable`} />
              <Field at={`${at}/cableMetres`} />
              <Field at={`${at}/cell`} />
              <Field at={`${at}/takenAt`} />
            </div>
            <RemoveButton what={`reading ${row + 1}`} onClick={() => remove(row)} />
          </TableCell>
        </TableRow>
      )}
      {wrong && (
        <TableRow className="row-more">
          <TableCell colSpan={10} className="caution">
            {wrong}
          </TableCell>
        </TableRow>
      )}
    </>
  );
}

/** What the chart can show; the first that was measured is the one that is judged. */
const measures = [
  ['downMbps', 'rate down', 'Mb/s'],
  ['sinrDb', 'SINR', 'dB'],
  ['upMbps', 'rate up', 'Mb/s'],
  ['rsrpDbm', 'RSRP', 'dBm'],
  ['rsrqDb', 'RSRQ', 'dB'],
] as const;

/** What the readings say, and the spots beside each other with their scatter. */
function SurveyVerdict({ survey }: { survey: Survey }) {
  const { palette, typography } = useTheme();
  const [chosen, setChosen] = useState('');
  if (survey.spots.length === 0) return null;
  const offered = measures.filter(([key]) => survey.spots.some((spot) => spot[key] !== undefined));
  const [key, title, unit] = offered.find(([each]) => each === chosen) ?? offered[0] ?? measures[0];
  const judged = key === (offered[0] ?? measures[0])[0];
  const rows = survey.spots.flatMap((spot) => {
    const value = spot[key];
    return value === undefined ? [] : [{ name: spot.name, value, spread: judged ? spot.spread : 0 }];
  });
  // Decibels have no zero to grow from: the bars begin a little below the weakest, so that longer is better.
  const weakest = Math.min(...rows.map(({ value }) => value));
  const floor = weakest < 0 ? Math.floor(weakest / 10) * 10 - 10 : 0;
  const axis = { fontSize: 12, fontFamily: typography.fontFamily!, fill: palette.text.secondary };
  return (
    <div className="survey-verdict">
      <p>
        <strong>{survey.says}</strong>
      </p>
      {rows.length > 0 && (
        <figure aria-label={`Median ${title} of each spot`}>
          <ResponsiveContainer width="100%" height={rows.length * 34 + 34}>
            <BarChart
              data={rows.map((row) => ({ ...row, length: row.value - floor }))}
              layout="vertical"
              margin={{ left: 4, right: 44, top: 2, bottom: 2 }}
            >
              <CartesianGrid horizontal={false} stroke={palette.divider} />
              <XAxis
                type="number"
                tick={axis}
                tickFormatter={(length: number) => `${Math.round((length + floor) * 10) / 10} ${unit}`}
                stroke={palette.text.secondary}
              />
              <YAxis type="category" dataKey="name" width={190} tick={axis} stroke={palette.text.secondary} />
              <Bar dataKey="length" fill={palette.primary.main} barSize={15} isAnimationActive={false}>
                <ErrorBar
                  dataKey="spread"
                  direction="x"
                  width={5}
                  stroke={palette.text.primary}
                  isAnimationActive={false}
                />
                <LabelList
                  dataKey="value"
                  position="insideLeft"
                  fill={palette.primary.contrastText}
                  fontSize={11.5}
                />
              </Bar>
            </BarChart>
          </ResponsiveContainer>
          <figcaption className="quiet">
            Median of the{' '}
            <Select
              className="boxed"
              aria-label="What the chart shows"
              value={key}
              onChange={({ target }) => setChosen(target.value)}
            >
              {offered.map(([each, name]) => (
                <option key={each} value={each}>
                  {name}
                </option>
              ))}
            </Select>
            in {unit}
            {judged ? '; the whisker is the scatter of the readings.' : '.'}
          </figcaption>
        </figure>
      )}
      {survey.verdict && <WorkedSum worked={survey.verdict} />}
    </div>
  );
}

/** The runs of an experiment, interleaved so that the hour does not decide. */
function Experiment({
  bands,
  pairs,
  take,
}: {
  bands: string;
  pairs: string;
  take: (order: string[]) => void;
}) {
  const [text, setText] = useState('');
  const sets = text
    .split('/')
    .map((set) => set.trim())
    .filter((set) => set !== '');
  const impossible = sets.map((set) => pairProblem(set, pairs)).find((says) => says !== undefined);
  const order = experimentOrder(sets, 3);
  return (
    <details className="experiment">
      <summary>Plan an experiment with antennas or band sets</summary>
      <label>
        Sets to compare, with a / between
        <Input
          className="boxed mono"
          value={text}
          placeholder="internal / roof 9 dB / bands 3+20"
          onChange={({ target }) => setText(target.value)}
          maxLength={300}
        />
      </label>
      {impossible && <p className="caution">{impossible} Leave that set out.</p>}
      {sets.length > 1 && !impossible && (
        <>
          <p>
            Three rounds, each in another order: <span className="mono">{order.join(' · ')}</span>. The
            setting to go back to is kept with them: <span className="mono">{bands || 'all bands'}</span>.
          </p>
          <Button onClick={() => take(order)}>Put these {order.length} runs into the logbook</Button>
        </>
      )}
    </details>
  );
}

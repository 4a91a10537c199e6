import { mdiAlertOctagonOutline, mdiAlertOutline, mdiCheck } from '@mdi/js';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { memo, useMemo } from 'react';
import { Link } from 'react-router';
import {
  type At,
  chainOf,
  compareWays,
  secondForwardSchema,
  secondSchema,
  secondWays,
  stepsOfSecond,
  titleAt,
  type Second,
  type SecondForwardPlan,
  type SecondPlan,
  type SecondWay,
  type WayOption,
} from '../../../core/index.ts';
import { useSite } from '../../state/analysis.ts';
import { newId } from '../../state/api.ts';
import { usePlanPiece, useSession } from '../../state/session.ts';
import { Field } from '../../parts/field.tsx';
import { Figures } from '../../parts/figures.tsx';
import { PlanTable, RemoveButton, useRows } from '../../parts/rows.tsx';
import { Icon } from '../../parts/severity.tsx';
import { SheetHead } from '../../parts/sheet-head.tsx';
import './downstream-router.css';

/** Boxes behind the router that could route themselves: three ways for each, compared, and the one that is chosen. */
export function Component() {
  const { ids, add, remove } = useRows<SecondPlan>('/second');
  return (
    <>
      <SheetHead
        title="Second router"
        says="Access points, and routers behind the router: three ways to connect each, compared for this site."
      />
      <section aria-label="Second routers and access points" data-at="/second" tabIndex={-1}>
        {ids.map((id, index) => (
          <SecondCard key={id} index={index} remove={remove} />
        ))}
        {ids.length === 0 && (
          <p className="empty">
            None. Add each device that can route, even as an access point: its DHCP server is on by default.
          </p>
        )}
        <div className="row-actions">
          <Button onClick={() => add(secondSchema.parse({ id: newId() }), 'box')}>
            Add a second router or access point
          </Button>
        </div>
      </section>
    </>
  );
}

const SecondCard = memo(function SecondCard({
  index,
  remove,
}: {
  index: number;
  remove: (index: number) => void;
}) {
  const at = `/second/${index}` as const;
  const site = useSite();
  const second = site.second[index];
  const row = usePlanPiece((plan) => plan.second[index]);
  if (!second || !row) return null;
  const { way, cable } = row;
  const wireless = way === 'bridge' || cable === 'no';
  const addresses: At[] = [
    `${at}/address`,
    ...(way === 'chained' ? ([`${at}/inside`, `${at}/translates`] as const) : []),
    `${at}/dhcp`,
    ...(way === 'bridge' ? [] : [`${at}/port` as const]),
  ];
  return (
    <fieldset className="card" aria-label={second.name} data-at={at} tabIndex={-1}>
      <div className="card-head">
        <Typography variant="h3">{second.name}</Typography>
        <span className="quiet">{titleAt(`${at}/way`, way)}</span>
        <RemoveButton what={second.name} onClick={() => remove(index)} />
      </div>
      <div className="ledger">
        <Field at={`${at}/box`} />
        <Field at={`${at}/network`} />
        <Field at={`${at}/place`} />
        <Field at={`${at}/factoryAddress`} />
        <Field at={`${at}/cable`} />
        {wireless && <Field at={`${at}/metres`} />}
        {wireless && <Field at={`${at}/sight`} />}
        {wireless && <Field at={`${at}/gain`} />}
        {wireless && <Field at={`${at}/signal`} />}
        <Field at={`${at}/way`} />
      </div>
      {way === 'undecided' ? (
        <ThreeWays second={second} />
      ) : (
        <>
          <Chain second={second} way={way} />
          <Figures title="Addresses" of={second.name} at={addresses}>
            <div className="ledger">
              {addresses.map((place) => (
                <Field key={place} at={place} />
              ))}
            </div>
          </Figures>
          {way === 'chained' && <Forwards at={at} of={second.name} />}
          <Figures title="Methods" of={second.name} at={[]} says="compared: what each costs and breaks here">
            <ThreeWays second={second} />
          </Figures>
          <Steps second={second} index={index} />
        </>
      )}
    </fieldset>
  );
});

/** The way of a device on it to the internet, box by box, with what translates. */
function Chain({ second, way }: { second: Second; way: SecondWay }) {
  const site = useSite();
  const boxes = chainOf(site, second, way);
  const count = boxes.filter(({ translates }) => translates).length;
  return (
    <ol
      className="second-chain"
      aria-label={`From the internet to a device on ${second.name}: ${count} ${count === 1 ? 'translation' : 'translations'}`}
    >
      {boxes.map(({ name, says, translates, joined, second: own }) => (
        <li key={name}>
          {joined !== '' && <span className="second-joined">{joined}</span>}
          <span className={own ? 'second-box second-own' : 'second-box'}>
            <strong>{name}</strong>
            <span className="mono">{says || '?'}</span>
            <span className="second-nat">{translates ? 'translates (NAT)' : ''}</span>
          </span>
        </li>
      ))}
    </ol>
  );
}

const weightIcons = { good: mdiCheck, cost: mdiAlertOutline, breaks: mdiAlertOctagonOutline } as const;
const weightWords = { good: 'good', cost: 'costs', breaks: 'breaks' } as const;

/** Topics down, ways across: what each means for this site. */
function ThreeWays({ second }: { second: Second }) {
  const site = useSite();
  const session = useSession();
  const options = useMemo(() => compareWays(site, second), [site, second]);
  const topics = options[0]!.consequences.map(({ topic }) => topic);
  return (
    <div className="table-scroll">
      <Table className="second-ways">
        <TableHead>
          <TableRow>
            <TableCell />
            {options.map((option) => (
              <WayHead
                key={option.way}
                option={option}
                second={second}
                choose={() => session.patch(option.patch)}
              />
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          <TableRow>
            <TableCell component="th" scope="row">
              Drawn
            </TableCell>
            {secondWays.map((way) => (
              <TableCell key={way}>
                <Chain second={second} way={way} />
              </TableCell>
            ))}
          </TableRow>
          {topics.map((topic, index) => (
            <TableRow key={topic}>
              <TableCell component="th" scope="row">
                {topic}
              </TableCell>
              {options.map(({ way, consequences }) => {
                const { weight, says } = consequences[index]!;
                return (
                  <TableCell key={way}>
                    <span className={`second-weight weight-${weight}`}>
                      <Icon path={weightIcons[weight]} /> {weightWords[weight]}
                    </span>{' '}
                    {says}
                  </TableCell>
                );
              })}
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </div>
  );
}

function WayHead({ option, second, choose }: { option: WayOption; second: Second; choose: () => void }) {
  const { way, recommended, reason } = option;
  const title = titleAt('/second/0/way', way);
  return (
    <TableCell component="th" scope="col">
      <span className="second-way">{title}</span>
      {second.way === way ? (
        <span className="quiet">chosen</span>
      ) : (
        <Button
          variant={recommended ? 'contained' : 'outlined'}
          onClick={choose}
          aria-label={`Choose: ${title}`}
        >
          Choose
        </Button>
      )}
      {recommended && <span className="second-reason">Recommended. {reason}</span>}
    </TableCell>
  );
}

function Forwards({ at, of }: { at: `/second/${number}`; of: string }) {
  return (
    <div data-at={`${at}/forwards`} tabIndex={-1}>
      <Typography variant="h4" className="second-h4">
        Forwards of {of}
      </Typography>
      <PlanTable<SecondForwardPlan>
        at={`${at}/forwards`}
        of={of}
        columns={[
          ['purpose', 'm'],
          ['protocol', 's'],
          ['outsidePorts', 's'],
          ['address', 'm'],
          ['insidePorts', 's'],
        ]}
        row={() => secondForwardSchema.parse({ id: newId() })}
        what="forward"
        addLabel="Add a forward"
        empty="None: nothing behind it is reached from outside of it."
      />
    </div>
  );
}

/** What is done, in which order, and what proves it. */
function Steps({ second, index }: { second: Second; index: number }) {
  const site = useSite();
  const steps = useMemo(
    () => stepsOfSecond(site, second, site.second.slice(0, index).at(-1)),
    [site, second, index],
  );
  return (
    <div className="second-steps">
      <Typography variant="h4" className="second-h4">
        Order of work
      </Typography>
      <ol>
        {steps.map(({ id, title }) => (
          <li key={id}>{title}</li>
        ))}
      </ol>
      <p className="quiet">
        Proof: {steps.at(-1)!.proof} The steps stand in the <Link to="../run-sheet">run sheet</Link>, among
        the others.
      </p>
    </div>
  );
}

import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import {
  type At,
  backupLoadSchema,
  failoverPromiseSchema,
  failoverRuleSchema,
  figuresText,
  fixedServiceSchema,
  linesForKind,
  predict,
  sharedCauseSchema,
  termAt,
  type Plan,
} from '../../../core/index.ts';
import { newId } from '../../state/api.ts';
import { useSite } from '../../state/analysis.ts';
import { usePlan, usePlanPiece, useSession } from '../../state/session.ts';
import { useNetworkChoices, useUplinkChoices, type Choices } from '../../parts/choices.ts';
import { Field } from '../../parts/field.tsx';
import { Figures } from '../../parts/figures.tsx';
import { PlanTable, RemoveButton, RowTable, useRows } from '../../parts/rows.tsx';
import { SheetHead } from '../../parts/sheet-head.tsx';
import { FailoverLine } from './failover-line.tsx';
import { Select } from '../../parts/inputs.tsx';

type Rule = Plan['failover']['rules'][number];

export function Component() {
  const count = usePlanPiece((plan) => plan.uplinks.length);
  const ids = usePlanPiece((plan) => plan.uplinks.map(({ id }) => id).join(' '));
  return (
    <>
      <SheetHead
        title="Failover"
        says="What is promised for the day a line fails, and how the router detects it, switches over and switches back."
      />
      {count < 2 && (
        <p className="empty">
          {count === 0 ? 'There is no line yet.' : 'There is one line only.'} A second one, on the Uplinks
          sheet, makes a promise possible: what is written here is kept until then.
        </p>
      )}
      <Promises />
      <section aria-labelledby="watching">
        <Typography variant="h3" id="watching">
          Line monitoring
        </Typography>
        {ids
          .split(' ')
          .filter((id) => id !== '')
          .map((id, index) => (
            <FailoverLine key={id} index={index} />
          ))}
      </section>
      <Rules />
      <Change />
    </>
  );
}

function Promises() {
  return (
    <section aria-labelledby="promises" data-at="/failover/promises" tabIndex={-1}>
      <Typography variant="h3" id="promises">
        Promises
      </Typography>
      <PlanTable
        at="/failover/promises"
        columns={[
          ['says', 'l'],
          ['network', 'm'],
          ['kind', 'm'],
          ['withinSeconds', 's'],
          ['By the plan', 'm'],
        ]}
        row={() => failoverPromiseSchema.parse({ id: newId(), withinSeconds: 60 })}
        cell={(key, index) => key === 'By the plan' && <ByThePlan index={index} />}
        what="promise"
        addLabel="Add a promise"
        empty="Nothing yet. Say who must be back after how many seconds: the sheet computes whether the plan keeps it, the Bench rehearses it, and the run sheet has it timed."
      />
    </section>
  );
}

/** What the plan makes of a promise, in a word. */
function ByThePlan({ index }: { index: number }) {
  const site = useSite();
  const promise = site.failover.promises.find(({ at }) => at === `/failover/promises/${index}`);
  if (!promise || linesForKind(site, promise.network, promise.kind).length === 0)
    return <span className="quiet">nothing to go by</span>;
  const { worstSeconds, says } = predict(site, promise);
  return worstSeconds === undefined ? (
    <span className="verdict-bad" title={says}>
      never
    </span>
  ) : (
    <span className={worstSeconds <= promise.withinSeconds ? 'verdict-good' : 'verdict-bad'}>
      {worstSeconds} s at worst
    </span>
  );
}

/** All ways in which a rule may use the lines, in order. */
function orders(lines: Choices): Choices {
  const ways: (readonly [string, string])[] = [['', 'no line: refused']];
  const walk = (chosen: readonly (readonly [string, string])[]): void => {
    if (chosen.length > 0)
      ways.push([
        chosen.map(([id]) => id).join(','),
        chosen.length === 1 ? `${chosen[0]![1]} only` : chosen.map(([, name]) => name).join(', then '),
      ]);
    // More than three in a row is more than anybody orders by hand.
    if (chosen.length < 3) for (const line of lines) if (!chosen.includes(line)) walk([...chosen, line]);
  };
  walk([]);
  return ways;
}

function Rules() {
  const session = useSession();
  const { ids, add, remove } = useRows<Rule>('/failover/rules');
  const networks = useNetworkChoices();
  const uplinks = useUplinkChoices();
  const rules = usePlanPiece((plan) => plan.failover.rules);
  return (
    <section aria-labelledby="failover-rules" data-at="/failover/rules" tabIndex={-1}>
      <Typography variant="h3" id="failover-rules">
        Which traffic uses which line
      </Typography>
      <Figures title="Use of the lines" at={['/failover/sharing', '/failover/sticky']}>
        <div className="ledger">
          <Field at="/failover/sharing" />
          <Field at="/failover/sticky" />
        </div>
      </Figures>
      <RowTable
        at="/failover/rules"
        columns={[
          ['network', 'm'],
          ['protocol', 's'],
          ['ports', 's'],
          ['lines', 'm'],
          ['says', 'l'],
        ]}
        add={() => add(failoverRuleSchema.parse({ id: newId() }), 'network')}
        addLabel="Add a rule"
        empty="No rule: everything uses the lines in the order of the Uplinks sheet. Add one for what must stay on a line, or must not use up the backup."
      >
        {ids.map((id, index) => (
          <TableRow key={id} data-at={`/failover/rules/${index}`} tabIndex={-1}>
            <TableCell>
              <Field bare at={`/failover/rules/${index}/network`} choices={networks} />
            </TableCell>
            <TableCell>
              <Field bare at={`/failover/rules/${index}/protocol`} />
            </TableCell>
            <TableCell>
              <Field bare at={`/failover/rules/${index}/ports`} />
            </TableCell>
            <TableCell>
              <Select
                aria-label={termAt(`/failover/rules/${index}/lines`)}
                data-at={`/failover/rules/${index}/lines`}
                value={rules[index]?.lines.join(',') ?? ''}
                onChange={({ target }) => {
                  session.edit(
                    `/failover/rules/${index}/lines`,
                    target.value === '' ? [] : target.value.split(','),
                  );
                  session.settle();
                }}
              >
                {orders(uplinks).map(([value, label]) => (
                  <option key={value} value={value}>
                    {label}
                  </option>
                ))}
              </Select>
            </TableCell>
            <TableCell>
              <Field bare at={`/failover/rules/${index}/says`} />
            </TableCell>
            <TableCell>
              <RemoveButton what={`rule ${index + 1}`} onClick={() => remove(index)} />
            </TableCell>
          </TableRow>
        ))}
      </RowTable>
    </section>
  );
}

function Change() {
  const { resolvers, back, dynamicName } = usePlanPiece((plan) => plan.failover);
  const places = (
    [
      'sessions',
      'back',
      back === 'quiet-hour' ? 'quietHour' : 'backHoldSeconds',
      'resolvers',
      ...(resolvers === 'own' ? ['ownResolvers' as const] : []),
      'notification',
      'dynamicName',
      ...(dynamicName === '' ? [] : (['updateSeconds', 'ttlSeconds'] as const)),
    ] as const
  ).map((key): At => `/failover/${key}`);
  return (
    <section aria-labelledby="change">
      <Typography variant="h3" id="change">
        Switching over, and what it costs
      </Typography>
      <Figures title="Over and back" at={places}>
        <div className="ledger">
          {places.map((place) => (
            <Field key={place} at={place} />
          ))}
        </div>
      </Figures>
      <Costs />
      <Causes />
    </section>
  );
}

/** Rows by their names, for the line that stands in for their table. */
const named = (rows: readonly { readonly name: string }[], none: string): string =>
  rows.length === 0 ? none : rows.map(({ name }) => name || 'unnamed').join(', ');

function Costs() {
  const plan = usePlan();
  const { loads, fixedServices } = plan.failover;
  const networks = useNetworkChoices();
  const loaded = loads.map(
    ({ network, mbps }) =>
      `${networks.find(([id]) => id === network)?.[1] ?? 'a network'} ${mbps ?? '?'} Mb/s`,
  );
  const figures = ['/failover/backupGigabytes', '/failover/falsePerMonth'] as const;
  return (
    <>
      <Figures
        title="Traffic on the backup"
        at={[...figures, '/failover/loads']}
        says={`${loaded.length === 0 ? 'Not estimated' : loaded.join(', ')}. ${figuresText(plan, figures)}`}
      >
        <div className="ledger">
          {figures.map((place) => (
            <Field key={place} at={place} />
          ))}
        </div>
        <div data-at="/failover/loads" tabIndex={-1}>
          <PlanTable
            at="/failover/loads"
            columns={[
              ['network', 'l'],
              ['mbps', 'm'],
            ]}
            row={() => backupLoadSchema.parse({ id: newId() })}
            what="network"
            addLabel="Add a network"
            empty="Not estimated: the cost of an outage cannot be computed."
          />
        </div>
      </Figures>
      <Figures
        title="Services bound to an address"
        at={['/failover/fixedServices']}
        says={named(
          fixedServices,
          'none named: think of telephony, mail, and partners who admit one address only',
        )}
      >
        <div data-at="/failover/fixedServices" tabIndex={-1}>
          <PlanTable
            at="/failover/fixedServices"
            columns={[
              ['name', 'l'],
              ['network', 'm'],
              ['ports', 's'],
            ]}
            row={() => fixedServiceSchema.parse({ id: newId() })}
            what="service"
            addLabel="Add a service"
            empty="None named. Think of telephony, mail, and partners who admit one address only."
          />
        </div>
      </Figures>
    </>
  );
}

function Causes() {
  const plan = usePlan();
  const uplinks = useUplinkChoices();
  const power = ['/failover/power/wattHours', '/failover/power/loadWatts'] as const;
  return (
    <Figures
      title="Shared causes and power"
      at={['/failover/causes', ...power]}
      says={`${named(plan.failover.causes, 'No shared cause entered')}. ${figuresText(plan, power)}`}
    >
      <div data-at="/failover/causes" tabIndex={-1}>
        <PlanTable
          at="/failover/causes"
          columns={[
            ['name', 'l'],
            ['kind', 'm'],
            ['uplinks', 'm'],
            ['perYear', 's'],
            ['repairHours', 's'],
          ]}
          row={() => sharedCauseSchema.parse({ id: newId(), uplinks: uplinks.map(([uplink]) => uplink) })}
          what="cause"
          addLabel="Add a cause"
          empty="None entered. Follow both lines to the street: pole, mast, duct, provider, the power strip they are plugged into."
        />
      </div>
      <div className="ledger">
        {power.map((place) => (
          <Field key={place} at={place} />
        ))}
      </div>
    </Figures>
  );
}

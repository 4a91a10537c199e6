import {
  backupLoadSchema,
  causeKinds,
  failoverPromiseSchema,
  failoverRuleSchema,
  fixedServiceSchema,
  linesForKind,
  predict,
  resolverWays,
  sessionWays,
  sharedCauseSchema,
  sharings,
  traffic,
  trafficKinds,
  waysBack,
  type FailoverSettings,
} from '../../core/index.ts';
import { newId } from '../app/api.ts';
import { useSite } from '../app/analysis.ts';
import { usePlanPiece, useSession } from '../app/session.ts';
import { useNetworkChoices, useUplinkChoices, type Choices } from '../parts/choices.ts';
import { ChoiceField, ListField, NumberField, SwitchField, TextField } from '../parts/field.tsx';
import { RemoveButton, RowTable, useRows } from '../parts/rows.tsx';
import { SheetHead } from '../parts/sheet-head.tsx';
import { FailoverLine } from './failover-line.tsx';

type Promise = FailoverSettings['promises'][number];
type Rule = FailoverSettings['rules'][number];
type Load = FailoverSettings['loads'][number];
type Fixed = FailoverSettings['fixedServices'][number];
type Cause = FailoverSettings['causes'][number];

const words = <Name extends string>(names: readonly Name[], says: Record<Name, string>): Choices =>
  names.map((name) => [name, says[name]] as const);

const sharingChoices = words(sharings, { order: 'one after the other', weights: 'shared by weight' });
const sessionChoices = words(sessionWays, { end: 'are ended', keep: 'are kept' });
const resolverChoices = words(resolverWays, { line: 'those of the line in use', own: 'of your choice' });
const backChoices = words(waysBack, {
  'at-once': 'at once',
  hold: 'after a hold',
  'quiet-hour': 'at a quiet hour',
  'by-hand': 'by hand',
});
const causeChoices = words(causeKinds, {
  pole: 'one pole',
  mast: 'one mast',
  duct: 'one duct',
  provider: 'one provider',
  power: 'one power strip',
  other: 'something else',
});
const kindChoices = trafficKinds.map((kind) => [kind, traffic[kind].title] as const);
const trafficProtocols: Choices = [
  ['any', 'all'],
  ['tcp', 'tcp'],
  ['udp', 'udp'],
  ['both', 'tcp and udp'],
];

export function Component() {
  const count = usePlanPiece((plan) => plan.uplinks.length);
  const ids = usePlanPiece((plan) => plan.uplinks.map(({ id }) => id).join(' '));
  return (
    <>
      <SheetHead
        title="Failover"
        says="What is promised for the day a line fails, and how the router finds out, changes over and goes back."
      />
      {count < 2 && (
        <p className="empty">
          {count === 0 ? 'There is no line yet.' : 'There is one line only.'} A second one, on the Uplinks
          sheet, makes a promise possible: what is written here is kept until then.
        </p>
      )}
      <Promises />
      <section aria-labelledby="watching">
        <h3 id="watching">How the router finds out</h3>
        {ids
          .split(' ')
          .filter((id) => id !== '')
          .map((id, index) => (
            <FailoverLine key={id} index={index} />
          ))}
      </section>
      <Rules />
      <Change />
      <Costs />
      <Causes />
    </>
  );
}

function Promises() {
  const { ids, add, remove } = useRows<Promise>('/failover/promises');
  const networks = useNetworkChoices();
  return (
    <section aria-labelledby="promises" data-at="/failover/promises" tabIndex={-1}>
      <h3 id="promises">What is promised</h3>
      <RowTable
        label="Promises for the day a line fails"
        headings={[
          ['In words', 'l'],
          ['Network', 'm'],
          ['Traffic', 'm'],
          ['Back within', 's'],
          ['By the plan', 'm'],
        ]}
        add={() => add(failoverPromiseSchema.parse({ id: newId(), withinSeconds: 60 }), 'says')}
        addLabel="Add a promise"
        empty="Nothing yet. Say who must be back after how many seconds: the sheet computes whether the plan keeps it, the Bench rehearses it, and the run sheet has it timed."
      >
        {ids.map((id, index) => (
          <tr key={id} data-at={`/failover/promises/${index}`} tabIndex={-1}>
            <td>
              <TextField bare wrap at={`/failover/promises/${index}/says`} label="In words" />
            </td>
            <td>
              <ChoiceField
                bare
                at={`/failover/promises/${index}/network`}
                label="Network"
                choices={[['', 'the first one'], ...networks]}
              />
            </td>
            <td>
              <ChoiceField
                bare
                at={`/failover/promises/${index}/kind`}
                label="Traffic"
                choices={kindChoices}
              />
            </td>
            <td>
              <NumberField
                bare
                at={`/failover/promises/${index}/withinSeconds`}
                label="Back within"
                unit="s"
                highest={86_400}
                lowest={1}
              />
            </td>
            <td>
              <ByThePlan index={index} />
            </td>
            <td>
              <RemoveButton what={`promise ${index + 1}`} onClick={() => remove(index)} />
            </td>
          </tr>
        ))}
      </RowTable>
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
      <span className="mono">{worstSeconds} s</span> at worst
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
      <h3 id="failover-rules">What may use which line</h3>
      <div className="ledger">
        <ChoiceField at="/failover/sharing" label="The lines are used" choices={sharingChoices} />
        <SwitchField
          at="/failover/sticky"
          label="Sessions stick"
          on="to their line"
          off="no"
          hint="Where lines share the load: a session stays on the line it began on"
        />
      </div>
      <RowTable
        label="Rules for the lines"
        headings={[
          ['Network', 'm'],
          ['Protocol', 's'],
          ['Ports', 's'],
          ['May use', 'm'],
          ['What for', 'l'],
        ]}
        add={() => add(failoverRuleSchema.parse({ id: newId() }), 'network')}
        addLabel="Add a rule"
        empty="No rule: everything uses the lines in the order of the Uplinks sheet. Add one for what must stay on a line, or must not use up the backup."
      >
        {ids.map((id, index) => (
          <tr key={id} data-at={`/failover/rules/${index}`} tabIndex={-1}>
            <td>
              <ChoiceField
                bare
                at={`/failover/rules/${index}/network`}
                label="Network"
                choices={[['', 'all networks'], ...networks]}
              />
            </td>
            <td>
              <ChoiceField
                bare
                at={`/failover/rules/${index}/protocol`}
                label="Protocol"
                choices={trafficProtocols}
              />
            </td>
            <td>
              <TextField bare mono at={`/failover/rules/${index}/ports`} label="Ports" placeholder="all" />
            </td>
            <td>
              <select
                className="choice"
                aria-label="May use"
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
              </select>
            </td>
            <td>
              <TextField bare wrap at={`/failover/rules/${index}/says`} label="What for" />
            </td>
            <td>
              <RemoveButton what={`rule ${index + 1}`} onClick={() => remove(index)} />
            </td>
          </tr>
        ))}
      </RowTable>
    </section>
  );
}

function Change() {
  const { resolvers, back, dynamicName } = usePlanPiece((plan) => plan.failover);
  return (
    <section aria-labelledby="change">
      <h3 id="change">On a change, and back</h3>
      <div className="ledger">
        <ChoiceField at="/failover/sessions" label="Old sessions" choices={sessionChoices} />
        <ChoiceField at="/failover/back" label="Goes back" choices={backChoices} />
        <ChoiceField at="/failover/resolvers" label="Resolvers" choices={resolverChoices} />
        {back === 'quiet-hour' ? (
          <NumberField at="/failover/quietHour" label="Quiet hour" unit="o'clock" highest={23} />
        ) : (
          <NumberField
            at="/failover/backHoldSeconds"
            label="Hold"
            unit="s"
            highest={604_800}
            placeholder="300"
          />
        )}
        {resolvers === 'own' && (
          <ListField at="/failover/ownResolvers" label="They are" placeholder="two, of two providers" />
        )}
        <TextField at="/failover/told" label="Who is told" wrap placeholder="whom, and how" />
        <TextField
          at="/failover/dynamicName"
          label="Name that follows"
          mono
          placeholder="none"
          hint="A name in the DNS that is changed to the address of the line in use"
        />
        {dynamicName !== '' && (
          <>
            <NumberField at="/failover/updateSeconds" label="Changed after" unit="s" highest={86_400} />
            <NumberField
              at="/failover/ttlSeconds"
              label="Caches keep it"
              unit="s"
              highest={604_800}
              placeholder="3600"
            />
          </>
        )}
      </div>
    </section>
  );
}

function Costs() {
  const loads = useRows<Load>('/failover/loads');
  const fixed = useRows<Fixed>('/failover/fixedServices');
  const networks = useNetworkChoices();
  return (
    <section aria-labelledby="costs">
      <h3 id="costs">What it may cost, and what it breaks</h3>
      <div className="ledger">
        <NumberField
          decimals
          at="/failover/backupGigabytes"
          label="On the backup"
          unit="GB a month"
          highest={1_000_000}
        />
        <NumberField
          decimals
          at="/failover/falsePerMonth"
          label="False switches"
          unit="a month"
          highest={1000}
          placeholder="1"
        />
      </div>
      <div className="pair">
        <div data-at="/failover/loads" tabIndex={-1}>
          <h4 className="sub">Carried on the backup</h4>
          <RowTable
            label="Traffic on the backup"
            headings={[
              ['Network', 'l'],
              ['On average', 'm'],
            ]}
            add={() => loads.add(backupLoadSchema.parse({ id: newId() }), 'network')}
            addLabel="Add a network"
            empty="Not estimated: the cost of an outage cannot be computed."
          >
            {loads.ids.map((id, index) => (
              <tr key={id} data-at={`/failover/loads/${index}`} tabIndex={-1}>
                <td>
                  <ChoiceField
                    bare
                    at={`/failover/loads/${index}/network`}
                    label="Network"
                    choices={networks}
                  />
                </td>
                <td>
                  <NumberField
                    bare
                    decimals
                    at={`/failover/loads/${index}/mbps`}
                    label="On average"
                    unit="Mb/s"
                    highest={100_000}
                  />
                </td>
                <td>
                  <RemoveButton what={`load ${index + 1}`} onClick={() => loads.remove(index)} />
                </td>
              </tr>
            ))}
          </RowTable>
        </div>
        <div data-at="/failover/fixedServices" tabIndex={-1}>
          <h4 className="sub">Knows the site by its address</h4>
          <RowTable
            label="Services that know the address"
            headings={[
              ['Service', 'l'],
              ['Network', 'm'],
              ['Ports', 's'],
            ]}
            add={() => fixed.add(fixedServiceSchema.parse({ id: newId() }), 'name')}
            addLabel="Add a service"
            empty="None named: voice, mail, a partner who lets in one address."
          >
            {fixed.ids.map((id, index) => (
              <tr key={id} data-at={`/failover/fixedServices/${index}`} tabIndex={-1}>
                <td>
                  <TextField bare wrap at={`/failover/fixedServices/${index}/name`} label="Service" />
                </td>
                <td>
                  <ChoiceField
                    bare
                    at={`/failover/fixedServices/${index}/network`}
                    label="Network"
                    choices={[['', 'the first one'], ...networks]}
                  />
                </td>
                <td>
                  <TextField bare mono at={`/failover/fixedServices/${index}/ports`} label="Ports" />
                </td>
                <td>
                  <RemoveButton what={`service ${index + 1}`} onClick={() => fixed.remove(index)} />
                </td>
              </tr>
            ))}
          </RowTable>
        </div>
      </div>
    </section>
  );
}

function Causes() {
  const session = useSession();
  const { ids, add, remove } = useRows<Cause>('/failover/causes');
  const uplinks = useUplinkChoices();
  const causes = usePlanPiece((plan) => plan.failover.causes);
  return (
    <section aria-labelledby="causes" data-at="/failover/causes" tabIndex={-1}>
      <h3 id="causes">What takes several lines at once</h3>
      <RowTable
        label="Shared causes"
        headings={[
          ['What', 'l'],
          ['They share', 'm'],
          ['Lines', 'm'],
          ['A year', 's'],
          ['Mended after', 's'],
        ]}
        add={() =>
          add(sharedCauseSchema.parse({ id: newId(), uplinks: uplinks.map(([uplink]) => uplink) }), 'name')
        }
        addLabel="Add a cause"
        empty="None written down. Follow both lines to the street: pole, mast, duct, provider, the strip they are plugged into."
      >
        {ids.map((id, index) => (
          <tr key={id} data-at={`/failover/causes/${index}`} tabIndex={-1}>
            <td>
              <TextField bare wrap at={`/failover/causes/${index}/name`} label="What" />
            </td>
            <td>
              <ChoiceField
                bare
                at={`/failover/causes/${index}/kind`}
                label="They share"
                choices={causeChoices}
              />
            </td>
            <td data-at={`/failover/causes/${index}/uplinks`} tabIndex={-1} className="ticks">
              {uplinks.map(([uplink, name]) => {
                const chosen = causes[index]?.uplinks ?? [];
                return (
                  <label key={uplink}>
                    <input
                      type="checkbox"
                      className="tick"
                      checked={chosen.includes(uplink)}
                      onChange={({ target }) => {
                        session.edit(
                          `/failover/causes/${index}/uplinks`,
                          target.checked ? [...chosen, uplink] : chosen.filter((each) => each !== uplink),
                        );
                        session.settle();
                      }}
                    />{' '}
                    {name}
                  </label>
                );
              })}
            </td>
            <td>
              <NumberField
                bare
                decimals
                at={`/failover/causes/${index}/perYear`}
                label="A year"
                highest={10_000}
                placeholder="1"
              />
            </td>
            <td>
              <NumberField
                bare
                decimals
                at={`/failover/causes/${index}/repairHours`}
                label="Mended after"
                unit="h"
                highest={10_000}
                placeholder="4"
              />
            </td>
            <td>
              <RemoveButton what={`cause ${index + 1}`} onClick={() => remove(index)} />
            </td>
          </tr>
        ))}
      </RowTable>
      <div className="ledger">
        <NumberField
          decimals
          at="/failover/power/wattHours"
          label="Battery supply"
          unit="Wh"
          highest={1_000_000}
          placeholder="none"
        />
        <NumberField decimals at="/failover/power/loadWatts" label="Hangs on it" unit="W" highest={100_000} />
      </div>
    </section>
  );
}

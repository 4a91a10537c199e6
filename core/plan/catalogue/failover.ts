import * as z from 'zod';
import { parseAddress } from '../../base/net/address.ts';
import { parseHost } from '../../base/net/identifiers.ts';
import { parsePorts } from '../../base/net/ports.ts';
import { practice } from '../../base/worked/worked.ts';
import {
  choice,
  cosmetic,
  formed,
  id,
  number,
  refersTo,
  refersToSome,
  rows,
  switching,
  text,
  typed,
  typedList,
  usually,
  usualNumber,
  usualWhole,
  whole,
  yesNo,
} from '../field.ts';

const first = { emptyMeans: 'the first network' } as const;

export const watchTargetSchema = z.strictObject({
  id,
  method: choice(
    'Probe method',
    'How the target is probed.',
    { ping: 'ping', name: 'DNS query', tcp: 'TCP connect', http: 'HTTP' },
    'ping',
    { alsoCalled: ['Check type', 'Health check'] },
  ),
  host: formed('Probe target', 'Address or name that is probed; for a DNS query the DNS server.', parseHost, {
    alsoCalled: ['Track IP', 'Ping target', 'Health check host'],
  }),
  port: whole('Port', 'For TCP and HTTP.', {
    least: 1,
    most: 65_535,
    lacking: 'a TCP connect has no port to go to.',
    lackingWhen: ({ method }) => method === 'tcp',
  }),
  pinned: yesNo('Bound to this line', 'Probed over this line only, whichever line is in use.', true, {
    on: 'bound',
    off: 'any line',
    alsoCalled: ['Bind to interface', 'Source interface'],
  }),
});

/** How the router finds out whether a line is good. */
export const watchSettings = z.strictObject({
  targets: rows('Probe targets', 'What is probed over this line.', watchTargetSchema, 8),
  intervalSeconds: usualNumber('Probe interval', 'Time from one probe to the next.', {
    unit: 's',
    seldomOutside: [0.2, 300],
    least: 0.1,
    most: 3600,
    usual: usually(10, practice),
    alsoCalled: ['Interval', 'Frequency', 'Check interval'],
  }),
  timeoutSeconds: usualNumber('Probe timeout', 'A probe without an answer is lost after this time.', {
    unit: 's',
    seldomOutside: [0.1, 30],
    least: 0.05,
    most: 60,
    usual: usually(2, practice),
    alsoCalled: ['Timeout', 'Max response time'],
  }),
  downAfter: usualWhole('Failures before down', 'Probes lost in a row before the line counts as down.', {
    unit: 'probes',
    least: 1,
    most: 100,
    usual: usually(3, practice),
    alsoCalled: ['Failure threshold', 'Retries', 'Down count'],
  }),
  upAfter: usualWhole(
    'Successes before up',
    'Probes answered in a row before the line may count as up again.',
    {
      unit: 'probes',
      least: 1,
      most: 1000,
      usual: usually(5, practice),
      alsoCalled: ['Recovery threshold', 'Success count', 'Up count'],
    },
  ),
  holdSeconds: usualNumber('Stable before up', 'How long the line must stay good before it counts as up.', {
    unit: 's',
    seldomOutside: [0, 3600],
    most: 86_400,
    usual: usually(30, practice),
    alsoCalled: ['Hold-down', 'Recovery time', 'Up delay'],
  }),
  windowProbes: whole('Probes in the window', 'The last probes, which are judged by loss and delay.', {
    unit: 'probes',
    least: 2,
    most: 1000,
    emptyMeans: 'not judged',
    alsoCalled: ['Sample size', 'Quality window'],
  }),
  windowLossPercent: number('Loss threshold', 'Loss in the window from which the line counts as down.', {
    unit: '%',
    least: 1,
    most: 100,
    emptyMeans: 'not judged',
    alsoCalled: ['Packet loss threshold', 'Quality'],
  }),
  windowDelayMs: number(
    'Delay threshold',
    'Median round-trip time in the window from which the line counts as down.',
    {
      unit: 'ms',
      least: 1,
      most: 60_000,
      emptyMeans: 'not judged',
      alsoCalled: ['Latency threshold', 'High latency'],
    },
  ),
  carrier: yesNo('Link loss', 'What a cable without link means.', true, {
    on: 'down at once',
    off: 'ignored',
    alsoCalled: ['Link state', 'Carrier detect'],
  }),
});

/** How a line fails: measured on site, and rates from the user's own records. */
export const lineFailures = z.strictObject({
  measuredLossPercent: number('Measured packet loss', 'On a day without a fault.', {
    unit: '%',
    seldomOutside: [0, 20],
    most: 100,
  }),
  measuredDelayMs: number('Measured round-trip time', 'On a day without a fault.', {
    unit: 'ms',
    seldomOutside: [0.1, 1500],
    most: 60_000,
  }),
  perYear: number('Failures', 'From your own records.', {
    unit: 'per year',
    seldomOutside: [0.01, 200],
    most: 10_000,
    emptyMeans: 'usual for the medium',
  }),
  repairHours: number('Time to repair', 'Mean time until it works again.', {
    unit: 'h',
    seldomOutside: [0.02, 720],
    most: 10_000,
    emptyMeans: 'usual for the medium',
    alsoCalled: ['MTTR'],
  }),
});

/** Traffic that is treated in its own way when a line fails. The first rule that fits counts. */
export const failoverRuleSchema = z.strictObject({
  id,
  network: refersTo('/networks', 'Network', 'The inside network it is about.', {
    emptyMeans: 'all networks',
  }),
  protocol: choice(
    'Protocol',
    'The transport protocol it is about.',
    { any: 'all', tcp: 'tcp', udp: 'udp', both: 'tcp and udp' },
    'any',
  ),
  ports: typed('Destination ports', 'One port or a range.', parsePorts, { emptyMeans: 'all' }),
  lines: refersToSome('/uplinks', 'Uplinks', 'Uplinks it may use, in order.', 8, {
    emptyMeans: 'none: it is refused',
    alsoCalled: ['Policy route', 'Routing rule', 'Preferred WAN'],
  }),
  says: cosmetic(text('What for', 'What this rule is for.')),
});

/** Kinds of traffic a promise can be about; what each does in an outage stands with the failover laws. */
export const trafficTitles = {
  web: 'Web pages',
  transfer: 'Long transfers',
  call: 'Telephone calls',
  card: 'Card payments',
  tunnel: 'VPN connections to outside',
  inbound: 'Connections from outside',
} as const;

export const failoverPromiseSchema = z.strictObject({
  id,
  says: cosmetic(text('Promise', 'What the customer was promised, in a sentence.')),
  network: refersTo('/networks', 'Network', 'Whose traffic it is about.', first),
  kind: choice('Traffic', 'The kind of traffic it is about.', trafficTitles, 'web'),
  withinSeconds: cosmetic(
    whole('Back within', 'Longest interruption that keeps the promise.', {
      unit: 's',
      seldomOutside: [1, 3600],
      least: 1,
      most: 86_400,
      alsoCalled: ['Recovery time objective', 'RTO'],
    }),
  ),
});

/** Something outside that knows the site by its address: it breaks when another line is used. */
export const fixedServiceSchema = cosmetic(
  z.strictObject({
    id,
    name: text('Service', 'What it is, and whose.'),
    network: refersTo('/networks', 'Network', 'Which network uses it.', first),
    ports: typed('Ports', 'One port or a range.', parsePorts, { emptyMeans: 'all' }),
  }),
);

export const backupLoadSchema = cosmetic(
  z.strictObject({
    id,
    network: refersTo('/networks', 'Network', 'Whose traffic uses the backup.', {
      lacking: 'it counts for nothing.',
    }),
    mbps: number('Average rate', 'What it sends and receives on the backup, on average.', {
      lacking: 'it counts for nothing.',
      unit: 'Mb/s',
      seldomOutside: [0.01, 500],
      most: 100_000,
    }),
  }),
);

export const sharedCauseSchema = cosmetic(
  z.strictObject({
    id,
    name: text('Cause', 'What would take several lines down at once.', {
      tellsApart: true,
      lacking: 'nobody knows what is meant.',
    }),
    kind: choice(
      'Kind',
      'What the lines share.',
      {
        pole: 'one pole',
        mast: 'one mast',
        duct: 'one duct',
        provider: 'one provider',
        power: 'one power supply',
        other: 'something else',
      },
      'other',
    ),
    uplinks: refersToSome('/uplinks', 'Uplinks', 'The lines that it takes down.', 8, {
      lacking: 'it takes nothing down.',
    }),
    perYear: usualNumber('Failures', 'How often it happens.', {
      unit: 'per year',
      seldomOutside: [0.01, 200],
      most: 10_000,
      usual: usually(1, practice),
    }),
    repairHours: usualNumber('Time to repair', 'Mean time until it is over.', {
      unit: 'h',
      seldomOutside: [0.02, 720],
      most: 10_000,
      usual: usually(4, practice),
    }),
  }),
);

export const failoverSettings = z.strictObject({
  sharing: switching(
    choice(
      'Use of the lines',
      'One after the other, or all at once by weight.',
      { order: 'failover: one after the other', weights: 'load balancing by weight' },
      'order',
      { alsoCalled: ['Priority', 'Metric', 'Failover', 'Load balancing'] },
    ),
  ),
  sticky: switching(
    yesNo('Sticky sessions', 'While lines share the load, a session stays on the line it began on.', true, {
      on: 'on',
      off: 'off',
      alsoCalled: ['Source persistence'],
    }),
  ),
  rules: rows('Policy rules', 'What may use which line.', failoverRuleSchema, 200),
  sessions: switching(
    choice(
      'Sessions on a failed line',
      'What the router does with connections that ran over a line that is down.',
      { end: 'ended', keep: 'kept' },
      'end',
      { alsoCalled: ['Flush states', 'Kill connections', 'Reset sessions'] },
    ),
  ),
  resolvers: switching(
    choice(
      'DNS servers of the router',
      'Where the router itself asks for names.',
      { line: "the provider's, of the line in use", own: 'your own choice' },
      'line',
      { alsoCalled: ['DNS forwarder', 'Upstream DNS'] },
    ),
  ),
  ownResolvers: switching(
    typedList('Own DNS servers', 'Two, of two providers, separated by commas.', parseAddress, 8),
  ),
  dynamicName: switching(
    text('Dynamic DNS name', 'A name that follows the address of the line in use.', {
      mono: true,
      emptyMeans: 'none',
      alsoCalled: ['DDNS', 'Host name that follows the address'],
    }),
  ),
  ttlSeconds: switching(
    usualNumber('DNS TTL', 'How long caches keep the name (RFC 1035).', {
      unit: 's',
      seldomOutside: [10, 172800],
      most: 604_800,
      usual: usually(3600, practice),
      alsoCalled: ['Time to live'],
    }),
  ),
  updateSeconds: switching(
    usualNumber('Update delay', 'How long the name takes to be changed.', {
      unit: 's',
      most: 86_400,
      usual: usually(0, practice),
      alsoCalled: ['DDNS update interval'],
    }),
  ),
  notification: cosmetic(
    text('Notification', 'Who is told of a change, and how.', {
      emptyMeans: 'nobody',
      alsoCalled: ['Alert', 'E-mail notification'],
    }),
  ),
  back: switching(
    choice(
      'Switch back',
      'When traffic goes back to the first line.',
      {
        'at-once': 'at once',
        hold: 'after a hold time',
        'quiet-hour': 'at a quiet hour',
        'by-hand': 'by hand',
      },
      'hold',
      { alsoCalled: ['Failback', 'Preempt', 'Revert'] },
    ),
  ),
  backHoldSeconds: switching(
    usualNumber('Hold before switching back', 'How long the first line must have been up.', {
      unit: 's',
      seldomOutside: [0, 86400],
      most: 604_800,
      usual: usually(300, practice),
      alsoCalled: ['Failback delay', 'Wait to restore'],
    }),
  ),
  quietHour: switching(
    usualWhole('Quiet hour', 'Hour of the day, local time.', {
      unit: "o'clock",
      most: 23,
      usual: usually(3, practice),
    }),
  ),
  promises: rows(
    'Promises',
    'Who is back after how many seconds when a line fails.',
    failoverPromiseSchema,
    50,
  ),
  falsePerMonth: cosmetic(
    usualNumber('Tolerated false switches', 'Switches without a fault that are bearable.', {
      unit: 'per month',
      seldomOutside: [0.01, 30],
      most: 1000,
      usual: usually(1, practice),
    }),
  ),
  backupGigabytes: cosmetic(
    number('Data on the backup', 'What the backup may carry.', {
      unit: 'GB a month',
      seldomOutside: [0.5, 5000],
      most: 1_000_000,
      emptyMeans: 'no limit',
    }),
  ),
  fixedServices: rows(
    'Services bound to an address',
    'What outside knows the site by its address, and breaks when another line is used.',
    fixedServiceSchema,
    50,
  ),
  loads: rows('Traffic on the backup', 'What each network carries on the backup.', backupLoadSchema, 200),
  causes: rows('Shared causes', 'What takes several lines down at once.', sharedCauseSchema, 50),
  power: cosmetic(
    z
      .strictObject({
        wattHours: number('Battery energy', 'Usable energy of the battery supply (UPS).', {
          unit: 'Wh',
          seldomOutside: [5, 20000],
          most: 1_000_000,
          emptyMeans: 'no battery',
          alsoCalled: ['UPS capacity'],
        }),
        loadWatts: number('Battery load', 'Power of everything that runs from the battery.', {
          unit: 'W',
          seldomOutside: [3, 2000],
          most: 100_000,
        }),
      })
      .prefault({}),
  ),
});

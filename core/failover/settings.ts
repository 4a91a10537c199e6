import { z } from 'zod';
import { id, number } from '../plan/parts.ts';
import { lineText } from '../text.ts';

const short = lineText(64).default('');
const line = lineText(200).default('');
const reference = z.union([id, z.literal('')]).default('');
const list = <T extends z.ZodType>(item: T, most: number) => z.array(item).max(most).default([]);

export const probeMethods = ['ping', 'name', 'tcp', 'http'] as const;
export const standbys = ['up', 'dialled'] as const;
export const sharings = ['order', 'weights'] as const;
export const sessionWays = ['end', 'keep'] as const;
export const waysBack = ['at-once', 'hold', 'quiet-hour', 'by-hand'] as const;
export const resolverWays = ['own', 'line'] as const;
/** Kinds of traffic a promise can be about; what each does in an outage stands in `traffic.ts`. */
export const trafficKinds = ['web', 'transfer', 'call', 'card', 'tunnel', 'inbound'] as const;
export const causeKinds = ['pole', 'mast', 'duct', 'provider', 'power', 'other'] as const;

export const watchTarget = z.strictObject({
  id,
  method: z.enum(probeMethods).default('ping'),
  host: short.describe('Address that is asked; for a name look-up the resolver'),
  port: number(1, 65_535).describe('For tcp and http'),
  pinned: z.boolean().default(true).describe('Asked over this line only, whichever line is in use'),
});

/** How the router finds out whether a line is good. Empty figures mean that nobody set them. */
export const watchSettings = z.strictObject({
  targets: list(watchTarget, 8),
  intervalSeconds: number(0.1, 3600),
  timeoutSeconds: number(0.05, 60),
  downAfter: number(1, 100).describe('Probes lost in a row that mean down'),
  upAfter: number(1, 1000).describe('Probes answered in a row that mean up again'),
  holdSeconds: number(0, 86_400).describe('How long it must stay good before it counts as up'),
  windowProbes: number(2, 1000).describe('Last probes that are looked at for loss and delay'),
  windowLossPercent: number(1, 100).describe('Loss in the window that means down'),
  windowDelayMs: number(1, 60_000).describe('Median delay in the window that means down'),
  carrier: z.boolean().default(true).describe('A cable without link counts as down at once'),
});

/** How a line fails: measured on site, and rates from the user's own records. */
export const lineFailures = z.strictObject({
  measuredLossPercent: number(0, 100),
  measuredDelayMs: number(0, 60_000),
  perYear: number(0, 10_000).describe('Failures a year'),
  repairHours: number(0, 10_000).describe('Mean time until it works again'),
});

/** Traffic that is treated in its own way when a line fails. The first rule that fits counts. */
const rule = z.strictObject({
  id,
  network: reference.describe('Inside network; empty means all'),
  protocol: z.enum(['any', 'tcp', 'udp', 'both']).default('any'),
  ports: short.describe('Destination ports; empty means all'),
  lines: z.array(id).max(8).default([]).describe('Lines it may use, in order; none means it is refused'),
  says: line.describe('What this is for'),
});

const promise = z.strictObject({
  id,
  says: line,
  network: reference,
  kind: z.enum(trafficKinds).default('web'),
  withinSeconds: number(1, 86_400),
});

/** Something outside that knows the site by its address: it breaks when another line is used. */
const fixedService = z.strictObject({ id, name: line, network: reference, ports: short });

const load = z.strictObject({ id, network: reference, mbps: number(0, 100_000) });

const cause = z.strictObject({
  id,
  name: line,
  kind: z.enum(causeKinds).default('other'),
  uplinks: z.array(id).max(8).default([]),
  perYear: number(0, 10_000),
  repairHours: number(0, 10_000),
});

export const failoverSettings = z.strictObject({
  sharing: z.enum(sharings).default('order'),
  sticky: z.boolean().default(true).describe('A session stays on its line while lines share the load'),
  rules: list(rule, 200),
  sessions: z.enum(sessionWays).default('end').describe('What happens to sessions on a dead line'),
  resolvers: z.enum(resolverWays).default('line').describe('Where the router asks for names'),
  ownResolvers: z.array(short).max(8).default([]),
  dynamicName: line.describe('Name that follows the address of the line in use'),
  ttlSeconds: number(0, 604_800),
  updateSeconds: number(0, 86_400).describe('How long the name takes to be changed'),
  told: line.describe('Who is told of a change, and how'),
  back: z.enum(waysBack).default('hold'),
  backHoldSeconds: number(0, 604_800),
  quietHour: number(0, 23),
  promises: list(promise, 50),
  falsePerMonth: number(0, 1000).describe('False switches that are bearable in a month'),
  backupGigabytes: number(0, 1_000_000).describe('Data that the backup may carry in a month'),
  fixedServices: list(fixedService, 50),
  loads: list(load, 200).describe('What each network carries on the backup'),
  causes: list(cause, 50),
  power: z
    .strictObject({
      wattHours: number(0, 1_000_000).describe('Energy of the battery supply'),
      loadWatts: number(0, 100_000).describe('What hangs on it'),
    })
    .prefault({}),
});

export type WatchSettings = z.output<typeof watchSettings>;
export type FailoverSettings = z.output<typeof failoverSettings>;
export type TrafficKind = (typeof trafficKinds)[number];

export const watchTargetSchema = watchTarget;
export const failoverRuleSchema = rule;
export const failoverPromiseSchema = promise;
export const fixedServiceSchema = fixedService;
export const backupLoadSchema = load;
export const sharedCauseSchema = cause;

import { describe, expect, test } from '@jest/globals';
import type { SiteRecord } from '../run-sheet/record.ts';
import { compile } from '../../site/compile.ts';
import { compiledCopy, demoPlan, soundPlan } from '../../testing/plans.ts';
import { runSheet } from '../run-sheet/sheet.ts';
import { strengthOf } from '../../behaviour/domain-types/rungs.ts';
import { unfinished } from './unfinished.ts';
import { outsideRefusal } from '../../intake/readings/outside.ts';
import { soundRecords } from '../../testing/visit.ts';
import { acceptance, type Accepted } from './judge.ts';
import { partsOfStep, standsOn } from './parts.ts';
import { promisesOf } from './promises.ts';
import { stepsOfVisit } from './open-steps.ts';
import { shortestProof } from './shortest.ts';

const farrow = compile(demoPlan('farrow-sound'));
const base = {
  at: '2026-03-02T09:00:00Z',
  initials: 'AB',
  reading: 'as it should be',
  seenFrom: '',
  revision: 1,
} as const;
/** What a sound site gives in the fields of a step, but for those that the test is about. */
const sound = (subject: string, values: Record<string, string> = {}, site = farrow): Partial<SiteRecord> => {
  const step = runSheet(site).find(({ id }) => id === subject)!;
  const { id: _, ...record } = soundRecords(site, [step])[0]!;
  return { ...record, values: { ...record.values, ...values } };
};
const judged = (records: Partial<SiteRecord>[], promise: string, site = farrow): Accepted =>
  acceptance(
    site,
    records.map(
      (record, index) => ({ ...base, id: index + 1, kind: 'tick', subject: '', ...record }) as SiteRecord,
    ),
  ).find((each) => each.promise.id === promise)!;

describe('acceptance', () => {
  test('every inside network and every forward is a promise, kept on paper by a sound plan', () => {
    const all = acceptance(farrow, []);
    expect(all.map((each) => each.promise.id)).toEqual([
      'line:fibre',
      'line:cellular',
      'internet:office',
      'internet:tickets',
      'internet:passengers',
      'internet:plant',
      'apart:office',
      'apart:tickets',
      'apart:passengers',
      'apart:plant',
      'forward:tide',
      'failover:cards',
      'failover:office',
      'peer:maren-phone',
      'peer:maren-laptop',
      'peer:idris-laptop',
      'refused:old-tablet',
    ]);
    expect(all.every((each) => each.promise.paper.kept)).toBe(true);
    expect(all.every((each) => !each.accepted && each.missing !== '')).toBe(true);
  });

  test('nothing is accepted by a weaker rung', () => {
    expect(judged([sound('uplink:fibre')], 'internet:office')).toMatchObject({
      accepted: false,
      best: { rung: 'address' },
      missing: expect.stringContaining('a page opened'),
    });
    expect(judged([sound('internet:office')], 'internet:office')).toMatchObject({
      accepted: true,
      missing: '',
    });
    expect(judged([{ subject: 'internet:office' }], 'internet:plant').accepted).toBe(false);
  });

  test('an untick takes the evidence back', () => {
    expect(
      judged(
        [{ subject: 'internet:office' }, { subject: 'internet:office', kind: 'untick' }],
        'internet:office',
      ).accepted,
    ).toBe(false);
  });

  test('inside tests never prove outside reach', () => {
    const outside = (seenFrom: string): Accepted =>
      judged(
        [
          { subject: 'outside:tide', seenFrom },
          { ...sound('outside-refused:tide'), seenFrom: '192.0.2.77' },
        ],
        'forward:tide',
      );
    expect(outside('198.51.100.25').accepted).toBe(true);
    for (const [from, why] of [
      ['', 'not noted'],
      ['10.24.10.100', 'on Office'],
      ['203.0.113.9', "this site's own address"],
      ['192.168.8.9', 'cellular box'],
      ['192.168.77.5', 'private'],
      ['abc', 'cannot be read'],
    ])
      expect(outside(from!)).toMatchObject({ accepted: false, missing: expect.stringContaining(why!) });
    // Behind a box that translates, the public address of that box is the site's own as well.
    const behind = compile(
      soundPlan((plan) => {
        Object.assign(plan.uplinks[0]!.settings.static, { address: '192.168.50.2', gateway: '192.168.50.1' });
        Object.assign(plan.uplinks[0]!.handoff, {
          mode: 'routes',
          insidePrefix: '192.168.50.0/30',
          insideAddress: '192.168.50.1',
          outsideAddress: '203.0.113.77',
        });
      }),
    );
    expect(outsideRefusal(behind, '203.0.113.77')).toMatch(/this site's own address/);
    expect(outsideRefusal(behind, '203.0.113.78')).toBeUndefined();
    // However strong, evidence from inside does not count: a power cut survived says nothing about the way in.
    expect(
      judged([{ kind: 'evidence', subject: 'forward:tide', rung: 'power-cut' }], 'forward:tide'),
    ).toMatchObject({ accepted: false, best: undefined });
    // A phone on mobile data is behind carrier NAT, and that is an external network.
    expect(outsideRefusal(farrow, '100.64.200.9')).toBeUndefined();
  });

  test('a promise that fails on paper is not accepted whatever was seen', () => {
    const blocked = compile(
      soundPlan((plan) => {
        plan.uplinks[0]!.sourceNat = false;
      }),
    );
    expect(judged([{ subject: 'internet:office' }], 'internet:office', blocked)).toMatchObject({
      accepted: false,
      missing: expect.stringContaining('does not work on paper'),
    });
    const nameless = compile(
      soundPlan((plan) => {
        plan.networks[1]!.resolvers = [];
      }),
    );
    expect(judged([], 'internet:guests', nameless).promise.paper).toMatchObject({
      kept: false,
      says: expect.stringContaining('no name resolves'),
    });
    expect(judged([], 'forward:weather-page', compile(demoPlan('hollin-edge'))).promise.paper.kept).toBe(
      false,
    );
  });

  test('a line is up when its two addresses are compared and a page opened over it; neither stands in for the other', () => {
    const steps = [
      { subject: 'uplink:fibre', reading: '203.0.113.9' },
      { subject: 'size:fibre', reading: '1464' },
    ];
    const standing = { subject: 'standing:fibre', reading: '203.0.113.9, 203.0.113.9' };
    const page = sound('page:fibre');
    expect(judged([...steps, page], 'line:fibre')).toMatchObject({
      accepted: false,
      missing: expect.stringContaining('the outside address compared'),
    });
    expect(judged([...steps, standing], 'line:fibre')).toMatchObject({
      accepted: false,
      missing: expect.stringContaining('a page opened'),
    });
    expect(judged([standing, page], 'line:fibre').accepted).toBe(true);
    expect(judged([standing, page], 'line:cellular').accepted).toBe(false);
  });

  test('nothing is proven by ticks without a word, the power cut neither', () => {
    for (const name of ['farrow-sound', 'weir-street', 'mill-lane', 'larch-house']) {
      const site = compile(demoPlan(name));
      const steps = runSheet(site);
      const ticks = steps.map((step, index) => ({
        ...base,
        id: index,
        kind: 'tick' as const,
        subject: step.id,
        reading: '',
      }));
      const all = acceptance(site, ticks, steps);
      expect(all.filter((each) => each.accepted).map(({ promise }) => promise.id)).toEqual([]);
      expect(unfinished(site, all, steps, ticks).length).toBeGreaterThan(0);
    }
  });

  test.each(['farrow-sound', 'hollin-edge', 'weir-street', 'mill-lane', 'larch-house'])(
    'every promise of %s can be proven by its steps, the shortest set proves them, and no smaller one',
    (name) => {
      const site = compile(demoPlan(name));
      const steps = runSheet(site);
      const proven = (done: typeof steps): string[] =>
        acceptance(site, soundRecords(site, done), steps)
          .filter(({ open }) => open.length === 0)
          .map(({ promise }) => promise.id);
      const all = acceptance(site, [], steps).map(({ promise }) => promise.id);
      expect(proven(steps)).toEqual(all);
      const shortest = shortestProof(acceptance(site, [], steps), steps);
      expect(proven([...shortest])).toEqual(all);
      for (const left of shortest)
        expect([left.id, proven(shortest.filter((step) => step !== left)).length < all.length]).toEqual([
          left.id,
          true,
        ]);
    },
  );

  test('evidence falls when what it proves changes, says why, and the shortest way back is named', () => {
    const steps = runSheet(farrow);
    const records = soundRecords(farrow, steps).map((record) => ({
      ...record,
      parts: standsOn(farrow, promisesOf(farrow)),
    }));
    const moved = compile(
      ((plan) => {
        plan.networks.find(({ id }) => id === 'passengers')!.vlan = 77;
        return plan;
      })(demoPlan('farrow-sound')),
    );
    const now = runSheet(moved);
    const after = acceptance(moved, records, now);
    expect(after.filter((each) => !each.accepted).map(({ promise }) => promise.id)).toEqual([
      'internet:passengers',
      'apart:office',
      'apart:tickets',
      'apart:passengers',
      'apart:plant',
    ]);
    expect(after.find(({ promise }) => promise.id === 'internet:passengers')!.missing).toContain(
      'the network Passengers changed afterwards',
    );
    expect(
      shortestProof(after, now)
        .map(({ id }) => id)
        .sort(),
    ).toEqual(['apart:office', 'apart:passengers', 'apart:plant', 'apart:tickets', 'internet:passengers']);
    // A note, a name and a figure that was measured change nothing.
    const renamed = demoPlan('farrow-sound');
    renamed.uplinks[0]!.name = 'The glass one';
    renamed.uplinks[0]!.media.fibre.measuredDbm = -19;
    expect(
      acceptance(compile(renamed), records).flatMap(({ accepted, missing }) => (accepted ? [] : missing)),
    ).toEqual([]);
  });

  test('a second visit has what is open or fell, and what that cannot do without; a change what it touches', () => {
    const plan = demoPlan('farrow-sound');
    plan.visit.kind = 'second';
    const site = compiledCopy(plan);
    const steps = runSheet(site);
    const done = steps.filter(({ id }) => id !== 'second-network:fibre:tickets' && id !== 'secrets');
    const promises = promisesOf(site);
    const seen = (some: typeof steps): SiteRecord[] =>
      soundRecords(site, some).map((record, index) => ({
        ...record,
        parts: partsOfStep(site, some[index]!, promises),
      }));
    const records = seen(done);
    const ids = (of: typeof site, all: typeof steps, given = records): string[] =>
      stepsOfVisit(of, all, given, acceptance(of, given, all), '2026-03-03').map(({ id }) => id);
    expect(ids(site, steps)).toEqual(['warn-people', 'second-network:fibre:tickets', 'secrets']);
    // All done: nothing is left to drive out for.
    const whole = seen(steps);
    expect(ids(site, steps, whole)).toEqual([]);
    // What was done today stays in sight.
    const today = whole.map((record) =>
      record.subject === 'kit' ? { ...record, at: '2026-03-03T08:00:00Z' } : record,
    );
    expect(ids(site, steps, today)).toEqual(['kit']);
    plan.visit.kind = 'change';
    plan.forwards[0]!.outsidePorts = '9443';
    const changed = compile(plan);
    const rest = ids(changed, runSheet(changed), whole);
    expect(rest).toEqual(
      expect.arrayContaining([
        'reconnect',
        'forward:tide',
        'save',
        'outside:tide',
        'outside-refused:tide',
        'backup-after',
        'handover',
      ]),
    );
    expect(rest).not.toContain('internet:office');
  });

  test('firmware that is loaded after a proof makes it fall', () => {
    const steps = runSheet(farrow);
    const records = soundRecords(farrow, steps).map((record) => ({
      ...record,
      parts: standsOn(farrow, promisesOf(farrow)),
    }));
    const again = { ...records.find(({ subject }) => subject === 'firmware')!, id: 999 };
    expect(acceptance(farrow, [...records, again], steps).filter((each) => each.accepted)).toEqual([]);
  });

  test('a limited forward needs one try that is answered and one that is refused, each from the right place', () => {
    const tries = (allowed: string, other: string): Accepted =>
      judged(
        [
          { subject: 'outside:tide', seenFrom: allowed },
          { ...sound('outside-refused:tide'), seenFrom: other },
        ],
        'forward:tide',
      );
    expect(tries('198.51.100.25', '192.0.2.77').accepted).toBe(true);
    expect(tries('198.51.100.25', '198.51.100.26')).toMatchObject({
      accepted: false,
      missing: expect.stringContaining('198.51.100.26 is an allowed source'),
    });
    expect(tries('192.0.2.77', '192.0.2.78').missing).toContain('no allowed source');
  });

  test('a bad reading does not count until somebody lets it be, with a name and a reason', () => {
    const page = { ...sound('page:fibre'), id: 1 };
    const wrong = { id: 2, subject: 'standing:fibre', reading: '169.254.3.4, 203.0.113.9' };
    const plain = judged([page, wrong], 'line:fibre');
    const weighed = plain.evidence.find(({ rung }) => rung === 'outside-address')!;
    expect([plain.accepted, weighed.counts, weighed.waivable]).toEqual([false, false, true]);
    const let_ = judged(
      [page, wrong, { kind: 'waive', subject: '2', reading: 'the page shows it wrongly', initials: 'MH' }],
      'line:fibre',
    );
    expect(let_.accepted).toBe(true);
    expect(let_.evidence.find(({ rung }) => rung === 'outside-address')!.says).toContain(
      'MH waived it: the page shows it wrongly',
    );
  });

  test('a network is apart when blocked access was tested from it', () => {
    expect(judged([sound('apart:passengers')], 'apart:passengers').accepted).toBe(true);
    expect(judged([sound('apart:office')], 'apart:passengers').accepted).toBe(false);
    expect(judged([sound('apart:passengers', { pair1: 'no' })], 'apart:passengers').missing).toContain(
      'answered',
    );
    expect(
      judged([sound('apart:passengers', { from: '10.24.10.50' })], 'apart:passengers').missing,
    ).toContain('no address of Passengers');
    expect(judged([], 'apart:passengers').promise.says).toContain('Passengers reaches nothing of');
  });

  test('each line has the ladder of its medium and its WAN type, weak to strong', () => {
    for (const id of ['line:fibre', 'line:cellular']) {
      const { promise } = judged([], id);
      const strengths = promise.ladder!.map(({ rung }) => strengthOf(rung));
      expect(strengths).toEqual([...strengths].sort((a, b) => a - b));
      expect(promise.bench).toMatchObject({ kept: true });
      expect(promise.paper.kept).toBe(true);
    }
    expect(judged([], 'line:fibre').promise.ladder![0]!.says).toMatch(/LOS light dark/);
    expect(judged([], 'line:fibre').promise.paper.question).toMatch(/when Cellular is down$/);
    expect(judged([], 'line:cellular').promise.ladder![6]!.says).toMatch(/the provider translates/);
  });

  test('before activation a line is kept neither on paper nor by any evidence', () => {
    const waiting = compile(
      soundPlan((plan) => {
        plan.uplinks[0]!.activation = 'not-yet';
      }),
    );
    const id = `line:${waiting.lines[0]!.id}`;
    expect(judged([{ subject: `standing:${waiting.lines[0]!.id}` }], id, waiting)).toMatchObject({
      accepted: false,
      missing: expect.stringContaining('not activated yet'),
    });
  });

  test('a promise about time is kept by a gap timed from its own network, and by none that is longer', () => {
    const back = sound('plug-in:fibre');
    const pull = 'second-network:fibre:tickets';
    const timed = (gap: string, more = {}): Accepted =>
      judged([sound(pull, { gap, ...more }), back], 'failover:cards');
    expect(timed('18').accepted).toBe(true);
    expect(timed('61')).toMatchObject({
      accepted: false,
      missing: expect.stringContaining('it took 61 s, and 45 s were promised'),
    });
    expect(timed('')).toMatchObject({
      accepted: false,
      missing: expect.stringContaining('nothing was written'),
    });
    expect(timed('quick').missing).toContain('not noted in seconds');
    // From another network, or while the pulled line carried it all the time.
    expect(timed('18', { from: '10.24.10.50' }).missing).toContain('no address of');
    expect(timed('18', { outside: '203.0.113.9' }).missing).toContain('traffic never left it');
    // The way back alone says nothing about the change, nor the other way round.
    expect(judged([back], 'failover:cards').accepted).toBe(false);
    expect(judged([sound(pull, { gap: '12' })], 'failover:cards').missing).toContain('a fail-back timed');
    expect(judged([sound('pull:fibre', { gap: '12' }), back], 'failover:cards').accepted).toBe(false);
  });

  test('what the bench breaks is said where the promise stands', () => {
    const broken = demoPlan('farrow-sound');
    broken.uplinks[0]!.watch.targets.forEach((target) => {
      target.host = '203.0.113.9';
    });
    const { promise } = judged([sound('pull:fibre', { gap: '5' })], 'failover:cards', compile(broken));
    expect(promise.paper.kept).toBe(false);
    expect(promise.bench).toMatchObject({
      kept: false,
      says: expect.stringContaining('no internet past first hop'),
    });
  });

  test('a person is in when a session from an external network says so; from inside it proves nothing', () => {
    const step = (seenFrom: string): Accepted =>
      judged([{ ...sound('vpn-test:maren-phone'), seenFrom }], 'peer:maren-phone');
    expect(step('198.51.100.140').accepted).toBe(true);
    expect(step('10.24.10.50').accepted).toBe(false);
    expect(step('203.0.113.9').accepted).toBe(false);
    expect(judged([], 'peer:idris-laptop').promise.says).toBe(
      'Idris Vane, laptop gets in: Gate panel of Gate controller',
    );
  });

  test('a lost device is out when somebody tried it from an external network', () => {
    const tried = (seenFrom: string): Accepted =>
      judged([{ ...sound('vpn-out:old-tablet'), seenFrom }], 'refused:old-tablet');
    expect(tried('198.51.100.140').accepted).toBe(true);
    expect(tried('10.24.10.50').accepted).toBe(false);
    expect(tried('').missing).toContain('may have come from inside');
    expect(judged([], 'refused:old-tablet').promise).toMatchObject({
      says: 'Maren Holt, tablet, lost on the quay is refused since 2026-02-11',
      bench: { kept: true, says: expect.stringContaining('silence') },
    });
  });

  test('with certificates a person needs one, and a lost device is out on paper when its own is revoked', () => {
    const plan = demoPlan('farrow-sound');
    plan.vpn.way = 'tls';
    const paper = (id: string) => judged([], id, compiledCopy(plan)).promise.paper;
    expect(paper('peer:idris-laptop')).toMatchObject({ kept: false, says: 'Still without a certificate.' });
    const certificate = {
      id: 'c',
      use: 'client' as const,
      serial: '4f01aa22',
      from: '',
      until: '',
      secret: 'c',
      pem: '',
    };
    plan.vpn.certificates = [
      { ...certificate, person: 'Idris Vane', revoked: '' },
      { ...certificate, id: 'd', person: 'Maren Holt, tablet, lost on the quay', revoked: '' },
    ];
    expect(paper('peer:idris-laptop').kept).toBe(true);
    expect(paper('refused:old-tablet')).toMatchObject({
      kept: false,
      says: 'Its certificate 4f01aa22 is not revoked yet.',
    });
    plan.vpn.certificates[1]!.revoked = '2026-03-02';
    expect(paper('refused:old-tablet').kept).toBe(true);
    expect(judged([], 'peer:idris-laptop', compile(plan)).promise.bench).toBeUndefined();
  });

  test('two sites are joined when a device answers at the other end; a handshake alone proves nothing', () => {
    const mill = compile(demoPlan('mill-lane'));
    const id = 'site:Weir-Street-library';
    const { promise } = judged([], id, mill);
    expect(promise).toMatchObject({
      says: 'Staff and Weir Street library reach each other',
      paper: { kept: true },
      bench: { kept: true, says: expect.stringContaining('43 s') },
    });
    const by = (rung: SiteRecord['rung']): Accepted =>
      judged([{ kind: 'evidence', subject: id, rung }], id, mill);
    expect(by('light').accepted).toBe(false);
    expect(by('ping-number').accepted).toBe(true);
    const steps = ['vpn-site-proof', 'vpn-site-pull'].map((step) =>
      sound(`${step}:Weir-Street-library`, {}, mill),
    );
    expect(judged(steps, id, mill).best?.rung).toBe('line-pulled');
  });

  test.each<[what: string, words: string, change: (plan: ReturnType<typeof demoPlan>) => unknown]>([
    ['without its key', 'its key', (plan) => (plan.vpn.sites[0]!.publicKey = '')],
    ['without routes', 'routes to it', (plan) => (plan.vpn.sites[0]!.prefixes = [])],
    [
      'with no network of its own',
      'a network that is connected',
      (plan) => (plan.vpn.sites[0]!.networks = ['x']),
    ],
  ])('a joined site %s is not kept on paper', (_what, words, change) => {
    const plan = demoPlan('mill-lane');
    change(plan);
    const { promise } = judged([], 'site:Weir-Street-library', compile(plan));
    expect(promise.paper).toMatchObject({ kept: false, says: expect.stringContaining(words) });
  });
});

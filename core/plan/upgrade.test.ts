import { describe, expect, test } from '@jest/globals';
import { compile } from '../site/compile.ts';
import { demoPlan, good } from '../testing/plans.ts';
import { upgraded } from './upgrade.ts';
import { planVersion } from './version.ts';
import { parsePlan } from './read.ts';

/** A plan as the program wrote it when a joined site had one block for each side. */
function older(): Record<string, unknown> {
  const plan = structuredClone(demoPlan('weir-street')) as unknown as {
    vpn: { sites: Record<string, unknown>[] };
  };
  for (const site of plan.vpn.sites) {
    for (const key of [
      'translations',
      'networks',
      'failsOver',
      'backupEndpoint',
      'backSeconds',
      'nameSeconds',
    ])
      delete site[key];
    Object.assign(site, { translated: '172.24.0.0/24', ownTranslated: '172.24.1.0/24' });
  }
  return { ...(plan as unknown as Record<string, unknown>), version: 1 };
}

describe('a plan of an earlier program', () => {
  test('opens: the subnets are kept, what they stand for is to be filled in, and a finding says so', () => {
    const plan = good(parsePlan(older()));
    const [far] = plan.vpn.sites;
    expect(far!.translations.map(({ of, real, seen }) => [of, real, seen])).toEqual([
      ['there', '', '172.24.0.0/24'],
      ['here', '', '172.24.1.0/24'],
    ]);
    expect(compile(plan).problems.map(({ at }) => at)).toEqual([
      '/vpn/sites/0/translations/0/real',
      '/vpn/sites/0/translations/1/real',
    ]);
    // Guests are left out, as of a site that is joined today.
    expect(compile(plan).vpn.sites[0]!.networks.map(({ name }) => name)).toEqual(['Staff', 'Door counter']);
  });

  test('with nothing translated there is nothing to fill in', () => {
    const document = older() as { vpn: { sites: Record<string, unknown>[] } };
    Object.assign(document.vpn.sites[0]!, { translated: '', ownTranslated: '' });
    expect(good(parsePlan(document)).vpn.sites[0]!.translations).toEqual([]);
  });

  test('each version has one upgrade, and a plan of today stays as it is', () => {
    const today = demoPlan('weir-street') as unknown as Record<string, unknown>;
    expect(good(upgraded(today))).toEqual(today);
    expect(good(upgraded({ version: 1, vpn: 7 }))).toEqual({ version: planVersion, vpn: 7 });
    expect(good(upgraded({ version: 1, vpn: { sites: ['x', null] } })).vpn).toEqual({ sites: ['x', null] });
  });

  test('version 4 knew of the medium whether a device in front can be bridged; it stands with that device now', () => {
    const today = demoPlan('weir-street') as unknown as { uplinks: Record<string, unknown>[] };
    const [uplink] = today.uplinks as { media: object; handoff: object }[];
    const before = {
      ...today,
      version: 4,
      uplinks: [{ ...uplink, media: { ...uplink!.media, router: { canBridge: 'no' } } }],
    };
    expect(good(parsePlan(before)).uplinks[0]!.handoff.canBridge).toBe('no');
  });

  test('version 3 renames five fields and keeps their values', () => {
    const today = demoPlan('farrow-sound') as unknown as Record<string, unknown>;
    const before = JSON.stringify(today)
      .replace('"encryptionMbps":', '"boxMbps":')
      .replace('"protocols":', '"boxEncrypts":')
      .replace('"clientDownMbps":', '"travellerDownMbps":')
      .replace('"notification":', '"told":')
      .replaceAll('"software":', '"takes":')
      .replace(`"version":${planVersion}`, '"version":2');
    expect(before).toMatch(/boxMbps.*boxEncrypts.*takes.*travellerDownMbps/);
    expect(good(parsePlan(JSON.parse(before)))).toEqual(today);
    expect(good(upgraded({ version: 2, failover: [], vpn: { peers: [null] } }))).toEqual({
      version: planVersion,
      failover: [],
      vpn: { peers: [null] },
    });
  });

  test.each([[undefined], ['2'], [0], [1.5], [null]])(
    'a version of %p is refused, with the place',
    (version) => {
      expect(upgraded({ version })).toMatchObject({
        ok: false,
        problem: { code: 'version', at: '/version' },
      });
    },
  );

  test('a newer one is called newer, not wrong', () => {
    const read = parsePlan({ format: 'netter-plan', version: planVersion + 1, somethingNew: true });
    expect(read).toMatchObject({ ok: false, problem: { code: 'newer', at: '/version' } });
  });
});

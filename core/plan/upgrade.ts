import { bad, ok, type Result } from '../base/result.ts';
import { planVersion } from './version.ts';

/** Anything that JSON can be. */
type Json = Record<string, unknown>;

const isObject = (value: unknown): value is Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** What makes a plan of one version one of the next; the first makes 2 out of 1. */
const upgrades: readonly ((plan: Json) => Json)[] = [
  fromOneToTwo,
  fromTwoToThree,
  fromThreeToFour,
  fromFourToFive,
  fromFiveToSix,
  fromSixToSeven,
  fromSevenToEight,
  fromEightToNine,
];

/** Brings a plan of an earlier version into the form of today, one version at a time; a newer one is refused. */
export function upgraded(document: Json): Result<Json> {
  const { version } = document;
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1)
    return bad(
      'version',
      `The file does not say which version of the plan format it has: "version" is a whole number, ${planVersion} today.`,
      '/version',
    );
  if (version > planVersion)
    return bad(
      'newer',
      `The plan is newer than this program: it has version ${version}, and this program reads up to ${planVersion}. Update the program, then open it again.`,
      '/version',
    );
  return ok({
    ...upgrades.slice(version - 1).reduce((plan, upgrade) => upgrade(plan), document),
    version: planVersion,
  });
}

/**
 * Version 1 had two forms of a site-to-site tunnel: at first one translated subnet for each end, without the subnet
 * that it stands for, then rows. Rows it is; the subnet that was never written down is left to be filled in.
 */
function fromOneToTwo(plan: Json): Json {
  const { vpn } = plan;
  if (!isObject(vpn) || !Array.isArray(vpn.sites)) return plan;
  return { ...plan, vpn: { ...vpn, sites: vpn.sites.map(withRows) } };
}

function withRows(site: unknown): unknown {
  if (!isObject(site) || !('translated' in site || 'ownTranslated' in site)) return site;
  const { translated, ownTranslated, ...rest } = site;
  const row = (of: 'here' | 'there', seen: unknown): Json[] =>
    typeof seen === 'string' && seen !== '' ? [{ id: of, of, seen }] : [];
  return { ...rest, translations: [...row('there', translated), ...row('here', ownTranslated)] };
}

/** Version 3 calls five fields as the catalogue does. */
function fromTwoToThree(plan: Json): Json {
  const { vpn, failover } = plan;
  const peers = isObject(vpn) && Array.isArray(vpn.peers) ? { peers: vpn.peers.map(withSoftware) } : {};
  return {
    ...plan,
    ...(isObject(failover) && { failover: renamed(failover, { told: 'notification' }) }),
    ...(isObject(vpn) && {
      vpn: {
        ...renamed(vpn, {
          boxMbps: 'encryptionMbps',
          boxEncrypts: 'protocols',
          travellerDownMbps: 'clientDownMbps',
        }),
        ...peers,
      },
    }),
  };
}

/**
 * Version 4 has rules that refuse, rules about the internet, expectations and exceptions; what there was says the same.
 * The number is new because a program that does not know a refusal must not read it as an allowance.
 */
function fromThreeToFour(plan: Json): Json {
  return plan;
}

/**
 * Version 5 has the last day of a forward, rate limits, and facts about the router; a program that does not know the
 * last day must not leave a forward open. Whether a device in front can be bridged stands with that device.
 */
function fromFourToFive(plan: Json): Json {
  const { uplinks } = plan;
  return Array.isArray(uplinks) ? { ...plan, uplinks: uplinks.map(withBridge) } : plan;
}

/**
 * Version 6 has the visit, and what is known of a model: its first login, its reset, its lights and its words. What
 * there was says the same.
 */
function fromFiveToSix(plan: Json): Json {
  return plan;
}

/** Version 7 says which values a brief set and nobody confirmed. What there was says the same. */
function fromSixToSeven(plan: Json): Json {
  return plan;
}

/** Version 8 has the cabling: sockets of boxes with their VLANs, runs, and lines carried over it. */
function fromSevenToEight(plan: Json): Json {
  return plan;
}

/**
 * Version 9 has second routers, rooms with their Wi-Fi, and what equipment can take at most. A program that does not know
 * a second router must not read what stands behind it as standing in the open network.
 */
function fromEightToNine(plan: Json): Json {
  return plan;
}

function withBridge(uplink: unknown): unknown {
  if (!isObject(uplink) || !isObject(uplink.media) || !isObject(uplink.media.router)) return uplink;
  const { canBridge, ...router } = uplink.media.router;
  if (canBridge === undefined) return uplink;
  const handoff = isObject(uplink.handoff) ? uplink.handoff : {};
  return { ...uplink, media: { ...uplink.media, router }, handoff: { ...handoff, canBridge } };
}

const withSoftware = (peer: unknown): unknown =>
  isObject(peer) ? renamed(peer, { takes: 'software' }) : peer;

/** The same values in the same order, some under another key. */
const renamed = (object: Json, names: Readonly<Record<string, string>>): Json =>
  Object.fromEntries(Object.entries(object).map(([key, value]) => [names[key] ?? key, value]));

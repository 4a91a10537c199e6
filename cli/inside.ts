import {
  bad,
  channelRules,
  compareWays,
  compile,
  followFrame,
  heardOn,
  ok,
  parseScan,
  recommendedChannels,
  runChecks,
  socketName,
  widthsFor,
  wiringData,
  wiringReport,
  type Result,
} from '../core/index.ts';
import { onPlan, planFrom, readFile, type Answered, type Given } from './arguments.ts';

/** The cabling of a site, worked out, or one frame in it. */
export function wiringCommand(given: Given): Result<Answered> {
  if (given.options.from !== undefined) return frameCommand(given, given.options.from);
  return onPlan(given, (plan) => {
    const site = compile(plan);
    const { ways, loops } = wiringReport(site);
    const broken = ways.some(({ arrives }) => !arrives) || loops.some(({ blocked }) => !blocked);
    return { json: wiringData(site), exit: broken ? 1 : 0 };
  });
}

/** The three ways of each second router, compared. */
export function secondCommand(given: Given): Result<Answered> {
  return onPlan(given, (plan) => {
    const site = compile(plan);
    const blocked = runChecks(site).some(
      ({ rule, severity }) => rule.startsWith('second-') && severity === 'blocker',
    );
    return {
      json: site.second.map((second) => ({
        name: second.name,
        way: second.way,
        options: compareWays(site, second),
      })),
      exit: blocked || site.second.some(({ way }) => way === 'undecided') ? 1 : 0,
    };
  });
}

function frameCommand(given: Given, from: string): Result<Answered> {
  const { tag = '0', to } = given.options;
  if (!/^\d{1,4}$/.test(tag) || Number(tag) > 4094)
    return bad('usage', `--tag is a VLAN from 1 to 4094, or 0 for none, not "${tag}".`, '--tag');
  const plan = planFrom(given.operands[0]);
  if (!plan.ok) return plan;
  const site = compile(plan.value);
  const { boxes } = site.wiring;
  const sockets = boxes.flatMap((box) => box.sockets);
  const socket = sockets.find((each) => socketName(each).toLowerCase() === from.trim().toLowerCase());
  if (!socket)
    return bad(
      'unknown-port',
      `No port is called "${from}". There are: ${sockets.map(socketName).slice(0, 40).join('; ')}.`,
      '--from',
    );
  const box = boxes.find(({ name }) => name.toLowerCase() === to?.trim().toLowerCase());
  if (to !== undefined && !box)
    return bad(
      'unknown-box',
      `No box is called "${to}". There are: ${boxes
        .map(({ name }) => name)
        .slice(0, 40)
        .join('; ')}.`,
      '--to',
    );
  const trips = followFrame(site, socket, Number(tag), box);
  return ok({
    json: trips.map(({ title, steps, arrived, circle }) => ({
      frame: title,
      arrived,
      circle,
      steps: steps.map(({ does, says }) => ({ does, says })),
    })),
    exit: trips.some(({ arrived, circle }) => !arrived || circle) || (box && trips.length < 3) ? 1 : 0,
  });
}

/** Channels for the radios of a plan, and how busy each is. */
export function channelsCommand(given: Given): Result<Answered> {
  const scan = given.options.scan === undefined ? undefined : readFile(given.options.scan);
  if (scan && !scan.ok) return scan;
  const read = scan && parseScan(scan.value);
  return onPlan(given, (plan) => {
    const site = compile(plan);
    const { radios } = site.wifi;
    const own = new Set(site.wifi.networks.map(({ ssid }) => ssid).filter((ssid) => ssid !== ''));
    const heard = read ? read.heard.filter(({ ssid }) => !own.has(ssid)) : heardOn(site);
    const best = recommendedChannels(site, heard);
    const rules = channelRules(site.about.country);
    return {
      json: {
        heard,
        unread: read?.unread ?? 0,
        country: rules
          ? { code: site.about.country, source: rules.source, says: 'ask your regulator' }
          : null,
        channels: (best?.choices ?? []).map(({ channel, foreign, own: ownShare }, index) => ({
          radio: radios[index]!.name,
          channel,
          now: radios[index]!.channel,
          width: radios[index]!.width,
          foreign,
          own: ownShare,
        })),
        widths: widthsFor(site, heard).map(({ band, options, best: { width } }) => ({
          band,
          width,
          options: options.map(({ width: each, mbps, own, choices }) => ({
            width: each,
            megabitsPerRadio: mbps,
            own,
            channels: choices.map(({ channel }) => channel),
          })),
        })),
        busy: best?.busy ?? 0,
        exact: best?.exact ?? true,
      },
    };
  });
}

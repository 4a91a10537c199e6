import type { MediumName } from '../../plan/schema.ts';
import type { Line } from '../../site/model.ts';
import type { UplinkTypeName } from '../../plan/schema.ts';
import { dhcpStandIn } from './dhcp.ts';
import { pppoeStandIn } from './pppoe.ts';
import { dsLiteStandIn } from './ds-lite.ts';
import { cellularStandIn, tunnelStandIn } from './radio.ts';
import { staticStandIn } from './static.ts';
import { Recorder, seeded, type Exchange, type Fault, type StandIn } from './stand-in.ts';

/** The registry of stand-ins, by WAN type. A line nobody knows has none. */
const standIns: { readonly [Name in UplinkTypeName]: StandIn | undefined } = {
  unknown: undefined,
  dhcp: dhcpStandIn,
  static: staticStandIn,
  pppoe: pppoeStandIn,
  cellular: cellularStandIn,
  'ds-lite': dsLiteStandIn,
  l2tp: tunnelStandIn,
  pptp: tunnelStandIn,
};

interface Start {
  /** How long the medium takes before the first packet can pass (common practice, no source). */
  readonly seconds: readonly [lowest: number, highest: number];
  readonly searching: string;
  readonly ready: string;
  readonly fault: LinkFault;
  /** The link comes up and is lost again and again. */
  readonly unsteady?: LinkFault;
}

interface LinkFault extends Fault {
  readonly light: string;
  readonly says: string;
}

const cablePulled: LinkFault = {
  name: 'no-link',
  title: 'The cable is not plugged in',
  light: 'no light at the WAN port',
  says: 'No link: cable, socket, or the device in front has no power. Nothing above it can work.',
};

/** What each medium does before the router can speak, and how it fails. */
const starts: Partial<Record<MediumName, Start>> = {
  fibre: {
    seconds: [20, 60],
    searching: 'PON light blinking',
    ready: 'PON light steady',
    fault: {
      name: 'no-link',
      title: 'No light on the fibre',
      light: 'LOS light red',
      says: 'Loss of signal: no light arrives. Unplugged, bent or dirty; clean, then measure. Never look into it.',
    },
  },
  dsl: {
    seconds: [60, 180],
    searching: 'DSL light blinking',
    ready: 'DSL light steady',
    fault: {
      name: 'no-link',
      title: 'No sync on the pair',
      light: 'DSL light keeps blinking',
      says: 'No sync: margin too low, a missing filter, or a pair that is not connected. Test socket, short cord, everything else unplugged.',
    },
    unsteady: {
      name: 'margin-low',
      title: 'The margin is too low',
      light: 'DSL light steady, then blinking again',
      says: 'It finds sync and loses it: the margin is below 6 dB. Filter on every telephone, test socket, short cord; then ask the provider for a slower profile.',
    },
  },
  cable: {
    seconds: [120, 300],
    searching: 'online light blinking',
    ready: 'online light steady',
    fault: {
      name: 'no-link',
      title: 'The modem finds no channel',
      light: 'online light keeps blinking',
      says: 'The modem searches on: connectors, splitters, or no signal on the drop.',
    },
  },
  satellite: {
    seconds: [60, 180],
    searching: 'searching the satellite',
    ready: 'on the satellite',
    fault: {
      name: 'no-link',
      title: 'The dish does not find the satellite',
      light: 'searching',
      says: 'No lock: something is in the way, or the mount has turned. Go back to the marks.',
    },
  },
};

export const faultsOf = (line: Line): readonly Fault[] => {
  const standIn = standIns[line.type];
  if (!standIn) return [];
  if (line.type === 'cellular') return standIn.faults;
  const start = starts[line.medium];
  return [start?.fault ?? cablePulled, ...(start?.unsteady ? [start.unsteady] : []), ...standIn.faults];
};

/**
 * Brings a line up against its stand-in.
 * @param fault a name of `faultsOf`, or empty for none
 * @param seed the same seed, the same run
 */
export function bringUp(line: Line, fault: string, seed: number): Exchange | undefined {
  const standIn = standIns[line.type];
  if (!standIn) return undefined;
  const random = seeded(seed);
  const record = new Recorder();
  const finish = (up: boolean, says: string): Exchange => ({
    messages: record.messages,
    sights: record.sights,
    up,
    endsAt: record.now,
    says,
  });
  if (line.type !== 'cellular') {
    const start = starts[line.medium];
    const broken = start?.fault ?? cablePulled;
    if (start) record.see(start.searching, 'no link yet', 'waiting for the line');
    if (fault === broken.name) {
      record.wait(start ? start.seconds[1] : 5);
      record.see(broken.light, 'cable unplugged', 'WAN link down');
      return finish(false, broken.says);
    }
    if (start?.unsteady && fault === start.unsteady.name) {
      for (let tries = 0; tries < 3; tries += 1) {
        record.wait(start.seconds[0] + (start.seconds[1] - start.seconds[0]) * random());
        record.see(start.ready, 'connecting', 'WAN link up');
        record.wait(5 + 40 * random());
        record.see(start.unsteady.light, 'no link', 'WAN link down');
      }
      return finish(false, start.unsteady.says);
    }
    if (start) {
      record.wait(start.seconds[0] + (start.seconds[1] - start.seconds[0]) * random());
      record.see(start.ready, 'connecting', 'WAN link up');
    }
  }
  const { up, says } = standIn.run(line, fault, record, random);
  return finish(up, says);
}

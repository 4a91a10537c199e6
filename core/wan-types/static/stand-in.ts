import { formatAddress, parseAddress, type Address } from '../../base/net/address.ts';
import { valueOf } from '../../base/result.ts';
import type { Line } from '../../site/model.ts';
import { arp, echo, ethernet, type Bytes } from '../../behaviour/provider-sim/bytes.ts';
import {
  everyoneMac,
  lineMac,
  routerMac,
  tagOf,
  type StandIn,
} from '../../behaviour/provider-sim/stand-in.ts';

const nobodyMac = '00:00:00:00:00:00';
const host = (value: string): Address => valueOf(parseAddress(value))!;

/** The two ends: as typed where they could be read. */
const endsOf = (line: Line): { router: Address; gateway: Address } => ({
  router: line.addressKnown ? line.address : host('198.51.100.77'),
  gateway: line.gateway ?? host('198.51.100.65'),
});

/** A line with fixed values: nothing is negotiated, so all that can be seen is whether the gateway answers. */
export const standIn: StandIn = {
  faults: [
    { name: 'wrong-gateway', title: 'The gateway is mistyped' },
    { name: 'wrong-vlan', title: 'The VLAN tag is wrong' },
    { name: 'no-server', title: 'The line is not activated' },
  ],
  run: (line, fault, record, random) => {
    const { router, gateway } = endsOf(line);
    const name = formatAddress(gateway);
    const fromRouter = (to: string, type: number, payload: Bytes): Uint8Array =>
      ethernet(routerMac, to, type, payload, tagOf(line));
    const fromLine = (type: number, payload: Bytes): Uint8Array =>
      ethernet(lineMac, routerMac, type, payload, tagOf(line));
    for (let tries = 0; tries < (fault === '' ? 1 : 3); tries += 1) {
      record.send(
        'router',
        'ARP request',
        `Who has ${name}?`,
        fromRouter(everyoneMac, 0x0806, arp('request', routerMac, router, nobodyMac, gateway)),
      );
      record.wait(fault === '' ? 0.003 + 0.004 * random() : 1);
    }
    if (fault !== '') {
      record.see('link steady', 'connected', 'gateway does not answer');
      return {
        up: false,
        says: 'The status page says connected, for a fixed line always does. The gateway does not answer: compare all four values and the VLAN tag digit by digit, then ask whether the line is active.',
      };
    }
    record.send(
      'line',
      'ARP reply',
      `${name} is here`,
      fromLine(0x0806, arp('reply', lineMac, gateway, routerMac, router)),
    );
    record.wait(0.001);
    record.send(
      'router',
      'Echo request',
      `Are you there, ${name}?`,
      fromRouter(lineMac, 0x0800, echo('request', router, gateway, 1)),
    );
    record.wait(0.003 + 0.01 * random());
    record.send('line', 'Echo reply', 'Yes', fromLine(0x0800, echo('reply', gateway, router, 1)));
    record.see('link steady', 'connected', 'gateway answers');
    return {
      up: true,
      says: `${name} answers. That is the next hop only: go on to a number, a name, a page.`,
    };
  },
};

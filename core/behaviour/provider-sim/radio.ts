import { formatAddress } from '../../base/net/address.ts';
import { pinSays } from '../media/cellular.ts';
import { offerOf } from './dhcp.ts';
import type { StandIn } from './stand-in.ts';

/** A cell and its core network: registration, then the session. The radio itself has no frames to save. */
export const cellularStandIn: StandIn = {
  faults: [
    { name: 'wrong-apn', title: 'The APN is wrong' },
    { name: 'wrong-pin', title: 'The PIN is wrong' },
    { name: 'not-registered', title: 'The card is not activated' },
    { name: 'weak', title: 'Signal in noise' },
  ],
  run: (line, fault, record, random) => {
    const settings = line.settings.cellular;
    record.send('router', 'Card', settings.pinSecret ? 'The PIN, please' : 'The card is read, no PIN');
    record.wait(2);
    if (fault === 'wrong-pin') {
      const left = Math.max(0, (settings.pinTriesLeft ?? 3) - 1);
      record.see(
        'signal light red',
        left === 0 ? 'PUK required' : 'PIN wrong',
        `card refused the PIN, ${left} left`,
      );
      return { up: false, says: pinSays(left) };
    }
    record.send('router', 'Search', 'Looking for a cell');
    record.wait(fault === 'weak' ? 55 : 10 + 25 * random());
    record.send('router', 'Attach request', 'May this card use the network?');
    record.wait(0.6);
    if (fault === 'not-registered') {
      record.send('line', 'Attach reject', 'This card is not known');
      record.see('signal light blinking', 'not registered', 'registration denied');
      return {
        up: false,
        says: 'Denied by the network: the card is not activated, or not for this device. No setting of the router changes that.',
      };
    }
    record.send('line', 'Attach accept', 'Registered, home network');
    record.see('signal light steady', 'registered', 'registered, home network');
    record.wait(1 + random());
    record.send('router', 'Session request', `APN ${settings.apn || '(none)'}`);
    record.wait(0.8);
    if (fault === 'wrong-apn') {
      record.send('line', 'Session reject', 'Unknown access point name');
      record.see('signal light steady', 'registered, no address', 'session rejected: missing or unknown APN');
      return {
        up: false,
        says: 'Registered without an address: signal and card are right, the APN is not. Compare it letter by letter.',
      };
    }
    const address = line.addressKnown ? formatAddress(line.address) : '100.64.12.7';
    record.send('line', 'Session accept', `Address ${address}`);
    record.see(
      'signal light steady',
      `connected, ${address}`,
      fault === 'weak' ? 'connected, SINR -3 dB' : 'connected',
    );
    return fault === 'weak'
      ? {
          up: false,
          says: 'Connected, full bars perhaps, and yet nothing opens in time: the signal drowns in noise. Read SINR, move the antenna, try another band.',
        }
      : {
          up: true,
          says: `Connected with ${address}${line.inbound === 'impossible' ? ', behind carrier NAT: nothing begins outside' : ''}. Bars and an address are two rungs: go on to a page.`,
        };
  },
};

/** The dialled tunnels: the line below comes first, then the tunnel end. They are dated, so there are no frames. */
export const tunnelStandIn: StandIn = {
  faults: [
    { name: 'no-tunnel', title: 'The tunnel end does not answer' },
    { name: 'no-server', title: 'The line below is down' },
  ],
  run: (line, fault, record, random) => {
    record.send('router', 'Line below', 'Asking for an address');
    record.wait(0.5 + random());
    if (fault === 'no-server') {
      record.see('link steady', 'no address', 'no answer on the line below');
      return {
        up: false,
        says: 'The line under the tunnel is not up: settle that first, the tunnel comes after.',
      };
    }
    record.send('line', 'Line below', 'The line below is up');
    record.wait(0.1);
    record.send('router', 'Tunnel', `Opening the tunnel of ${line.name}`);
    record.wait(fault === 'no-tunnel' ? 30 : 0.2 + 0.2 * random());
    if (fault === 'no-tunnel') {
      record.see('link steady', 'tunnel down', 'tunnel end does not answer');
      return {
        up: false,
        says: 'The line below works, the tunnel does not: its name or address, or a filter on the way.',
      };
    }
    record.send('line', 'Tunnel', 'Open');
    record.see(
      'link steady',
      `connected, ${formatAddress(offerOf(line).address)}`,
      `tunnel up, packets up to ${line.mtuBytes} bytes`,
    );
    return { up: true, says: `The tunnel is up; packets inside are ${line.mtuBytes} bytes at most.` };
  },
};

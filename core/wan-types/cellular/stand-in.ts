import { formatAddress } from '../../base/net/address.ts';
import { pinSays } from '../../behaviour/media/cellular.ts';
import type { StandIn } from '../../behaviour/provider-sim/stand-in.ts';

/** A cell and its core network: registration, then the session. The radio itself has no frames to save. */
export const standIn: StandIn = {
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

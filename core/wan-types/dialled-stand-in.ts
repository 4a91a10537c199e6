import { formatAddress } from '../base/net/address.ts';
import type { StandIn } from '../behaviour/provider-sim/stand-in.ts';
import { offerOf } from './dhcp/stand-in.ts';

/** The dialled tunnels: the line below comes first, then the tunnel end. They are dated, so there are no frames. */
export const dialledStandIn: StandIn = {
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

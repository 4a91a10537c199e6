import * as z from 'zod';
import { parseServer } from '../base/net/identifiers.ts';
import { formed } from '../plan/field.ts';
import { plainPort, profileOf } from './profile.ts';
import { password, userName } from './shared-fields.ts';

/** What an outdated dialled tunnel puts around each packet: see the layers "l2tp" and "pptp" of core/base/worked/stack.ts. */
const tunnelBytes = 40;

/** A dialled tunnel over another line: L2TP (RFC 2661) and PPTP (RFC 2637) ask for the same. */
export const dialled = (title: string) =>
  profileOf({
    title,
    settings: z.strictObject({
      server: formed('Server', 'Name or address of the tunnel server, from the paperwork.', parseServer, {
        longest: 255,
        needed: true,
        alsoCalled: ['Gateway', 'VPN server'],
      }),
      userName: userName(true, 'As on the paperwork.'),
      secret: password,
    }),
    port: () => ({
      ...plainPort,
      addressKey: 'server',
      largestBytes: 1500 - tunnelBytes,
      wrappingBytes: tunnelBytes,
    }),
    holds: { server: 'server', userName: 'userName', password: 'secret' },
  });

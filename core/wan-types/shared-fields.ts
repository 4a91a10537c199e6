import { parseAddress } from '../base/net/address.ts';
import { parseUserName } from '../base/net/identifiers.ts';
import { formed, secret, typed, yesNo } from '../plan/field.ts';

/* Fields that several WAN types have. */

export const expectedAddress = typed(
  'Expected address',
  'The address this line should get, if the contract names one or an earlier visit saw one.',
  parseAddress,
  { alsoCalled: ['WAN IP', 'IP address'] },
);
export const useResolvers = yesNo(
  "Use the provider's DNS servers",
  'Take the DNS servers that the line offers. If not, name DNS servers yourself.',
  true,
  { alsoCalled: ['Peer DNS', 'Use ISP DNS', 'Obtain DNS automatically'] },
);
export const userName = (needed: boolean, says: string) =>
  formed('User name', says, parseUserName, {
    longest: 255,
    needed,
    alsoCalled: ['Account', 'Login', 'PPP user'],
  });
export const password = secret('Password', 'From the paperwork; kept in the vault.', {
  alsoCalled: ['PPP password', 'Secret'],
});

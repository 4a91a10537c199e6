import { replacing, type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Site } from '../../site/model.ts';
import { formatAddress } from '../../base/net/address.ts';
import { practice, step, worked } from '../../base/worked/worked.ts';
import { note, said } from './note.ts';

/** Automatic functions of the router, and nobody planned: ports that devices open, calls that it rewrites, hairpin NAT. */
export const routerFacts: Check = {
  name: 'router facts',
  run: (site) => [...portControl(site), ...sipHelper(site), ...hairpin(site), ...ping(site)],
};

function portControl({ router, networks }: Site): Finding[] {
  if (router.facts.portControl !== 'on') return [];
  const who = networks.filter(({ purpose }) => purpose !== 'staff' && purpose !== 'management');
  return [
    note(
      'ports-by-devices',
      'warning',
      '/router/portControl',
      `Any device inside may open a port of the router to itself${who.length > 0 ? `, those of ${who.map(({ name }) => name).join(', ')} too` : ''}: what can be reached from the internet is then in no plan. Switch it off, and forward what is needed.`,
      worked(
        'Ports opened by devices',
        'on',
        '',
        [step('asks whether the device may', 'no'), step('shown in the list of forwards', 'mostly not')],
        'RFC 6887 section 18 (security considerations)',
      ),
      replacing('Plan it as switched off; the run sheet asks for it', '/router/portControl', 'off'),
    ),
  ];
}

function sipHelper({ router, networks, failover }: Site): Finding[] {
  const calls =
    networks.some(({ purpose }) => purpose === 'voice') ||
    failover.promises.some(({ kind }) => kind === 'call');
  if (router.facts.sipHelper !== 'on' || !calls) return [];
  return [
    note(
      'sip-helper',
      'warning',
      '/router/sipHelper',
      'The router rewrites the signalling of calls: with most call providers that makes calls without sound, calls that end after some minutes, and telephones that lose their registration. Switch it off, and let the telephones deal with NAT themselves.',
      worked(
        'SIP helper',
        'on',
        '',
        [
          step('telephones find their outside address', 'by themselves (STUN, RFC 8489)'),
          step('helper', 'on'),
        ],
        `RFC 5626, RFC 8489; ${practice}`,
      ),
      replacing('Plan it as switched off; the run sheet asks for it', '/router/sipHelper', 'off'),
    ),
  ];
}

/** Where requests from inside do not turn round, what is typed outside does not work inside. */
function hairpin({ router, forwards }: Site): Finding[] {
  const [first] = forwards.filter(({ device, line }) => device?.address && line);
  if (router.facts.hairpin !== 'no' || !first) return [];
  return [
    note(
      'no-hairpin',
      'advice',
      '/router/hairpin',
      `The router does not send requests from inside back in: from inside, ${first.device!.name} answers at ${formatAddress(first.device!.address!)} only, and not under the outside address or name. Give inside a DNS entry of its own for that name, or use the inside address there.`,
      said('Hairpin NAT', 'no'),
    ),
  ];
}

function ping({ router, lines }: Site): Finding[] {
  if (!router.facts.pingOutside || lines.every(({ inbound }) => inbound === 'impossible')) return [];
  return [
    note(
      'ping-outside',
      'advice',
      '/router/pingOutside',
      'The router answers to ping from everybody: that helps those who monitor the line, and tells every scanner that a router is here. Low risk. Limit it to the address that monitors, if the router can.',
      { ...said('Answers to ping on uplinks', 'yes'), source: practice },
    ),
  ];
}

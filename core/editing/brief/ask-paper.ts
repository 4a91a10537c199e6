import { formatAddress, parseAddress } from '../../base/net/address.ts';
import { parseApn, parseUserName } from '../../base/net/identifiers.ts';
import { hostsOf, parsePrefix } from '../../base/net/prefix.ts';
import { valueOf } from '../../base/result.ts';
import { lineName } from '../../intake/letter/collector.ts';
import { holdsOf, needs } from '../../wan-types/facts.ts';
import { askProvider, choice, eachLine, fromPaper } from './question.ts';

/* What stands on the paper of a provider, line by line. */

export const address = eachLine(
  (line) => {
    if (line.address || !line.type || !needs(line.type.value, 'address')) return undefined;
    const known =
      line.block ??
      (line.network && line.prefixLength
        ? { value: `${line.network.value}/${line.prefixLength.value}` }
        : undefined);
    const prefix = known && valueOf(parsePrefix(known.value));
    const hosts = prefix && hostsOf(prefix);
    const gateway = line.gateway?.value;
    const free = hosts
      ? [0n, 1n, 2n]
          .map((offset) => formatAddress({ family: 4, value: hosts.first.value + offset }))
          .find((each) => each !== gateway)
      : undefined;
    const likely = line.usable?.value ?? free;
    return {
      id: 'address',
      asks: `Which address of ${lineName(line)} does the router take?`,
      why: 'The router holds it; the others of the subnet stay free.',
      choices:
        likely === undefined
          ? []
          : [choice(likely, likely, gateway ? 'The first beside the gateway.' : 'The first of the subnet.')],
      likely: likely ?? askProvider,
      because: likely === undefined ? 'The paper names none.' : 'The first that is free.',
      typed: { term: 'Address', example: '203.0.113.10' },
      provider: true,
    };
  },
  (line, answer, from) => {
    const address = valueOf(parseAddress(answer));
    if (!address) return `"${answer}" is no IP address.`;
    line.address = { value: formatAddress(address), from };
  },
);

export const gateway = fromPaper(
  (line) =>
    !line.gateway && line.type && needs(line.type.value, 'gateway')
      ? {
          id: 'gateway',
          asks: `Which address is the gateway of ${lineName(line)}?`,
          why: 'Without it nothing leaves.',
        }
      : undefined,
  { term: 'Gateway', example: '203.0.113.9' },
  (line, answer, from) => {
    const address = valueOf(parseAddress(answer));
    if (!address) return `"${answer}" is no IP address.`;
    line.gateway = { value: formatAddress(address), from };
  },
);

export const resolvers = fromPaper(
  (line) =>
    !line.resolvers && line.type && 'resolvers' in holdsOf(line.type.value)
      ? {
          id: 'resolvers',
          asks: `Which DNS servers are used over ${lineName(line)}?`,
          why: 'A line with a fixed address tells the router none: without one no name resolves.',
        }
      : undefined,
  { term: 'One or two addresses', example: '198.51.100.53, 198.51.100.54' },
  (line, answer, from) => {
    const found = answer.split(/[,;\s]+/).filter((each) => each !== '');
    const wrong = found.find((each) => !valueOf(parseAddress(each)));
    if (wrong !== undefined || found.length === 0) return `"${wrong ?? answer}" is no IP address.`;
    line.resolvers = { value: found.slice(0, 4), from };
  },
);

export const userName = fromPaper(
  (line) =>
    !line.userName && line.type && needs(line.type.value, 'userName')
      ? {
          id: 'user',
          asks: `What is the user name of ${lineName(line)}?`,
          why: 'Without it the session is refused; what follows the "@" is what most refusals are about.',
        }
      : undefined,
  { term: 'User name', example: '00471122@line.example' },
  (line, answer, from) => {
    const read = parseUserName(answer);
    if (!read.ok) return read.problem.says;
    line.userName = { value: answer.trim(), from };
  },
);

export const vlan = eachLine(
  (line) =>
    !line.vlan &&
    !line.untagged &&
    ['fibre', 'dsl'].includes(line.medium?.value ?? '') &&
    !(line.type && needs(line.type.value, 'address')) &&
    line.box?.value !== 'routes'
      ? {
          id: 'vlan',
          asks: `Is the data of ${lineName(line)} on a VLAN?`,
          why: 'With the wrong tag the line is silent: no answer at all, not a refusal.',
          choices: [choice('none', 'No VLAN', 'Frames go untagged.')],
          likely: askProvider,
          because: 'Many such lines are tagged, and only the provider knows with what.',
          typed: { term: 'VLAN ID', example: '7' },
          provider: true,
        }
      : undefined,
  (line, answer, from) => {
    if (answer === 'none') {
      line.untagged = { value: true, from };
      return;
    }
    const id = Number(answer.replace(/^vlan\s*/i, ''));
    if (!Number.isInteger(id) || id < 1 || id > 4094)
      return 'A VLAN ID is a number from 1 to 4094 (IEEE 802.1Q).';
    line.vlan = { value: id, from };
  },
);

export const apn = fromPaper(
  (line) =>
    !line.apn && line.type && needs(line.type.value, 'apn')
      ? {
          id: 'apn',
          asks: `Which APN does the SIM of ${lineName(line)} need?`,
          why: 'Registered without an address is nearly always the APN.',
        }
      : undefined,
  { term: 'APN', example: 'internet.provider.example' },
  (line, answer, from) => {
    const read = parseApn(answer);
    if (!read.ok) return read.problem.says;
    line.apn = { value: answer.trim(), from };
  },
);

import { formatAddress, parseAddress, type Address } from '../../base/net/address.ts';
import { formatPrefix, parseInterface, parsePrefix, type Prefix } from '../../base/net/prefix.ts';
import { bad, ok, valueOf, type Result } from '../../base/result.ts';
import { ini, iniRemark, iniRow, type Code } from '../../base/encode/index.ts';
import { asLine, pastedLines } from '../../base/text.ts';

/** The far end of a profile. */
export interface ProfilePeer {
  readonly publicKey: string;
  readonly presharedKey: string;
  readonly endpoint: string;
  readonly allowed: readonly Prefix[];
  readonly keepAliveSeconds: number | undefined;
}

/** A profile of the tunnel as a device takes it: one interface, one or more far ends. */
export interface Profile {
  readonly name: string;
  readonly privateKey: string;
  /** Own addresses with the length as written. */
  readonly addresses: readonly { readonly host: Address; readonly length: number }[];
  /** Resolver addresses, and search names. */
  readonly resolvers: readonly string[];
  readonly mtuBytes: number | undefined;
  readonly listenPort: number | undefined;
  readonly peers: readonly ProfilePeer[];
  /** Lines that no device of this protocol knows. */
  readonly unknown: readonly string[];
  /** Lines that run commands on the device that loads it. */
  readonly commands: readonly string[];
}

const list = (text: string): string[] =>
  text
    .split(',')
    .map((part) => part.trim())
    .filter((part) => part !== '');

/**
 * Reads a profile: an [Interface] section and [Peer] sections of "Key = value" lines, case of the keys ignored, "#"
 * begins a remark. A line that cannot be read is named with its number.
 */
export function parseProfile(text: string): Result<Profile> {
  type Section = { kind: 'interface' | 'peer'; values: Map<string, string> };
  const sections: Section[] = [];
  const unknown: string[] = [];
  const commands: string[] = [];
  let name = '';
  for (const [index, raw] of pastedLines(text).entries()) {
    const remark = /^ ?# ?Name ?= ?(\S.*)$/i.exec(raw);
    if (remark && name === '') name = remark[1]!.trim();
    const line = raw.split('#', 1)[0]!.trim();
    if (line === '') continue;
    const head = /^\[(\w+)\]$/.exec(line)?.[1]?.toLowerCase();
    if (head === 'interface' || head === 'peer') {
      sections.push({ kind: head, values: new Map() });
      continue;
    }
    const pair = /^([A-Za-z0-9]+) ?= ?(.*)$/.exec(line);
    const section = sections.at(-1);
    if (!pair || !section)
      return bad(
        'profile',
        `Line ${index + 1}, "${line.slice(0, 40)}", is neither a section such as [Interface] nor "Key = value".`,
        `line ${index + 1}`,
      );
    const [, key = '', value = ''] = pair;
    if (/^(?:pre|post)(?:up|down)$/i.test(key)) {
      commands.push(`line ${index + 1}: ${key}`);
      continue;
    }
    const known = section.kind === 'interface' ? interfaceKeys : peerKeys;
    if (!known.has(key.toLowerCase())) {
      unknown.push(`line ${index + 1}: ${key}`);
      continue;
    }
    const before = section.values.get(key.toLowerCase());
    section.values.set(key.toLowerCase(), before === undefined ? value : `${before}, ${value}`);
  }
  const own = sections.find(({ kind }) => kind === 'interface');
  if (!own)
    return bad(
      'profile',
      'There is no [Interface] section: this is no profile of the tunnel, or half of one.',
    );
  const addresses: { host: Address; length: number }[] = [];
  for (const part of list(own.values.get('address') ?? '')) {
    const parsed = part.includes('/') ? parseInterface(part) : bareHost(part);
    if (!parsed.ok) return bad('profile', `Address: ${parsed.problem.says}`, 'Address');
    addresses.push({ host: parsed.value.host, length: parsed.value.prefix.length });
  }
  const peers: ProfilePeer[] = [];
  for (const { values } of sections.filter(({ kind }) => kind === 'peer')) {
    const allowed: Prefix[] = [];
    for (const part of list(values.get('allowedips') ?? '')) {
      const parsed = parsePrefix(part.includes('/') ? part : `${part}/${part.includes(':') ? 128 : 32}`);
      // A host with a short length is a habit: the block around it is meant.
      const meant = parsed.ok ? parsed.value : valueOf(parseInterface(part))?.prefix;
      if (!meant) return bad('profile', `AllowedIPs: "${part}" is no prefix.`, 'AllowedIPs');
      allowed.push(meant);
    }
    const keep = values.get('persistentkeepalive');
    peers.push({
      publicKey: values.get('publickey') ?? '',
      presharedKey: values.get('presharedkey') ?? '',
      endpoint: values.get('endpoint') ?? '',
      allowed,
      keepAliveSeconds: keep !== undefined && /^\d+$/.test(keep) ? Number(keep) : undefined,
    });
  }
  const digits = (key: string): number | undefined => {
    const value = own.values.get(key);
    return value !== undefined && /^\d{1,5}$/.test(value) ? Number(value) : undefined;
  };
  return ok({
    name,
    privateKey: own.values.get('privatekey') ?? '',
    addresses,
    resolvers: list(own.values.get('dns') ?? ''),
    mtuBytes: digits('mtu'),
    listenPort: digits('listenport'),
    peers,
    unknown,
    commands,
  });
}

const interfaceKeys = new Set(['privatekey', 'address', 'dns', 'mtu', 'listenport', 'table']);
const peerKeys = new Set(['publickey', 'presharedkey', 'endpoint', 'allowedips', 'persistentkeepalive']);

function bareHost(text: string): Result<{ host: Address; prefix: Prefix }> {
  const host = parseAddress(text);
  return host.ok ? parseInterface(`${text}/${host.value.family === 4 ? 32 : 128}`) : host;
}

/** Writes a profile; reading it again gives the same profile. */
export function writeProfile(profile: Profile): string {
  const rows = (pairs: readonly (readonly [string, string])[]): Code<'ini'>[] =>
    pairs.filter(([, value]) => value !== '').map(([key, value]) => iniRow(key, value));
  const number = (value: number | undefined): string => (value === undefined ? '' : String(value));
  return ini.lines(
    profile.name === '' ? [] : [iniRemark(`Name = ${asLine(profile.name)}`)],
    ini`[Interface]`,
    rows([
      ['PrivateKey', profile.privateKey],
      ['Address', profile.addresses.map(({ host, length }) => `${formatAddress(host)}/${length}`).join(', ')],
      ['ListenPort', number(profile.listenPort)],
      ['DNS', profile.resolvers.join(', ')],
      ['MTU', number(profile.mtuBytes)],
    ]),
    profile.peers.flatMap((peer) => [
      ini``,
      ini`[Peer]`,
      ...rows([
        ['PublicKey', peer.publicKey],
        ['PresharedKey', peer.presharedKey],
        ['Endpoint', peer.endpoint],
        ['AllowedIPs', peer.allowed.map(formatPrefix).join(', ')],
        ['PersistentKeepalive', number(peer.keepAliveSeconds)],
      ]),
    ]),
    ini``,
  ).text;
}

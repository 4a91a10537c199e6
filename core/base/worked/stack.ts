import { bad, ok, type Result } from '../result.ts';
import { step, type Step, type Worked } from './worked.ts';

/** What a layer is laid around, or lies on: Ethernet frames, packets of either IP version, or of one. */
type Carried = 'ethernet' | 'ip' | 4 | 6;

/** One wrapping of packets: what it takes away from the largest packet that fits inside. */
export interface Layer {
  readonly name: string;
  readonly says: string;
  /** Bytes around each packet. */
  readonly bytes: number;
  /** What it needs below it, and what it carries. */
  readonly on: Carried;
  readonly carries: Carried;
  readonly source: string;
  /** Packets inside are padded to this, with two more bytes of trailer: the block of an encryption. */
  readonly block?: number;
}

const layer = (
  name: string,
  says: string,
  bytes: number,
  [on, carries]: readonly [Carried, Carried],
  source: string,
  block?: number,
): Layer => ({ name, says, bytes, on, carries, source, ...(block !== undefined && { block }) });

const paper = "the protocol's paper";
const esp = 'RFC 4303, RFC 4106';

/** Wrappings, by the name under which a sum takes them. From memory, by the standards named. */
export const layers: readonly Layer[] = [
  layer('vlan', 'VLAN tag, in the frame', 0, ['ethernet', 'ethernet'], 'IEEE 802.1Q'),
  layer('pppoe', 'PPPoE and PPP, 6 + 2', 8, ['ethernet', 'ip'], 'RFC 2516 section 7'),
  layer('ds-lite', 'IPv6 around IPv4', 40, [6, 4], 'RFC 6333 section 5.3'),
  layer('6in4', 'IPv4 around IPv6', 20, [4, 6], 'RFC 4213 section 3.2'),
  layer('ipip', 'IPv4 around IPv4', 20, [4, 4], 'RFC 2003'),
  layer('map-t', 'IPv6 header 40 in place of IPv4 20', 20, [6, 4], 'RFC 7599 section 9'),
  layer('map-e', 'IPv6 around IPv4', 40, [6, 4], 'RFC 7597 section 8'),
  layer('gre4', 'IPv4 20, GRE 4', 24, [4, 'ip'], 'RFC 2784'),
  layer('gre6', 'IPv6 40, GRE 4', 44, [6, 'ip'], 'RFC 7676'),
  layer('vxlan4', 'IPv4 20, UDP 8, VXLAN 8, Ethernet 14', 50, [4, 'ethernet'], 'RFC 7348 section 5'),
  layer('vxlan6', 'IPv6 40, UDP 8, VXLAN 8, Ethernet 14', 70, [6, 'ethernet'], 'RFC 7348 section 5'),
  layer('l2tp', 'IPv4 20, UDP 8, L2TP 8, PPP 4', 40, [4, 'ip'], 'RFC 2661 sections 3.1, 8.1'),
  layer('pptp', 'IPv4 20, GRE 16, PPP 4', 40, [4, 'ip'], 'RFC 2637 section 4.1'),
  layer('wireguard4', 'IPv4 20, UDP 8, header 16, tag 16', 60, [4, 'ip'], paper),
  layer('wireguard6', 'IPv6 40, UDP 8, header 16, tag 16', 80, [6, 'ip'], paper),
  layer('esp4', 'IPv4 20, UDP 8, ESP 8, vector 8, check 16', 60, [4, 'ip'], `${esp}, RFC 3948`, 4),
  layer('esp4-plain', 'IPv4 20, ESP 8, vector 8, check 16', 52, [4, 'ip'], esp, 4),
  layer('esp6', 'IPv6 40, UDP 8, ESP 8, vector 8, check 16', 80, [6, 'ip'], `${esp}, RFC 3948`, 4),
  layer('esp6-plain', 'IPv6 40, ESP 8, vector 8, check 16', 72, [6, 'ip'], esp, 4),
];

/** Header 14 and check sum 4 of a frame; a tag is 4 more (IEEE 802.3, IEEE 802.1Q). */
const frameBytesAround = 18;
const tagBytes = 4;

export interface Link {
  /** Largest packet of the Ethernet below: 1500, or more where the link carries jumbo frames. */
  readonly linkBytes?: number;
  /** Largest frame the gear takes, tags and check sum counted; left out where it takes what the link carries. */
  readonly frameBytes?: number;
  /** Both ends of PPPoE agreed on 1500 bytes inside (RFC 4638); without it PPPoE carries 1492, whatever the link. */
  readonly largePppoe?: boolean;
}

const carriedName: Readonly<Record<Carried, string>> = {
  ethernet: 'Ethernet',
  ip: 'IP',
  4: 'IPv4',
  6: 'IPv6',
};

/** Whether a layer can lie on what the one below carries. Ethernet and PPP carry both IP versions. */
const liesOn = (below: Carried, wanted: Carried): boolean =>
  wanted === below || (wanted !== 'ethernet' && (below === 'ethernet' || below === 'ip'));

/** Largest packet that passes a stack of wrappings unfragmented, outermost first. */
export function stackWorked(names: readonly string[], link: Link = {}): Result<Worked<number>> {
  const { linkBytes = 1500, frameBytes, largePppoe = false } = link;
  if (names.length === 0) return bad('no-layers', 'No wrapping is named.');
  const found: Layer[] = [];
  let below: Carried = 'ethernet';
  for (const [index, name] of names.entries()) {
    const next = layers.find((each) => each.name === name);
    if (!next)
      return bad(
        'unknown-layer',
        `"${name}" is no wrapping known here: ${layers.map((each) => each.name).join(', ')}.`,
      );
    if (!liesOn(below, next.on))
      return bad(
        'layer-order',
        `"${name}" needs ${carriedName[next.on]} below it, and ${index === 0 ? 'the link' : `"${names[index - 1]}"`} carries ${carriedName[below]}.`,
      );
    found.push(next);
    below = next.carries;
  }
  const tags = found.findIndex(({ name }) => name !== 'vlan');
  const outerTags = tags < 0 ? found.length : tags;
  let mtu = linkBytes;
  const steps: Step[] = [step('Ethernet carries', linkBytes)];
  if (frameBytes !== undefined) {
    const room = frameBytes - frameBytesAround - tagBytes * outerTags;
    mtu = Math.min(linkBytes, room);
    steps.push(
      step(
        `a frame of ${frameBytes} holds`,
        `${frameBytes} - ${frameBytesAround}${outerTags > 0 ? ` - ${outerTags} × ${tagBytes}` : ''} = ${room}`,
      ),
      step('the smaller', mtu),
    );
  }
  const sources = ['RFC 894'];
  for (const [index, each] of found.entries()) {
    const inside = through(each, mtu, index < outerTags, largePppoe);
    mtu = inside.mtu;
    steps.push(inside.step);
    const { source } = inside;
    if (!sources.includes(source)) sources.push(source);
  }
  if (mtu < 68) return bad('too-deep', `Nothing is left after these wrappings: ${mtu} bytes.`);
  return ok(withUses(mtu, below, steps, sources));
}

/** Largest packet inside one more wrapping. */
function through(
  each: Layer,
  outer: number,
  outerTag: boolean,
  largePppoe: boolean,
): { mtu: number; step: Step; source: string } {
  const { name, says, bytes, block, source } = each;
  if (name === 'vlan') {
    // A tag of the line itself is in the frame; one inside a tunnel takes from what the tunnel carries.
    const mtu = outerTag ? outer : outer - tagBytes;
    return {
      mtu,
      source,
      step: step(
        `${name}: ${says}`,
        outerTag ? 'in the frame, not in the packet' : `${outer} - ${tagBytes} = ${mtu}`,
      ),
    };
  }
  if (name === 'pppoe') {
    const most = largePppoe ? 1500 : 1492;
    const mtu = Math.min(most, outer - bytes);
    return {
      mtu,
      source: largePppoe ? 'RFC 4638' : source,
      step: step(
        `${name}: ${says}, at most ${most}`,
        `${outer} - ${bytes} = ${outer - bytes}${outer - bytes > most ? `, limited to ${most}` : ''}`,
      ),
    };
  }
  if (block === undefined) {
    const mtu = outer - bytes;
    return { mtu, source, step: step(`${name}: ${says}`, `${outer} - ${bytes} = ${mtu}`) };
  }
  const room = outer - bytes;
  const mtu = room - (room % block) - 2;
  return {
    mtu,
    source,
    step: step(
      `${name}: ${says}, padding`,
      `${outer} - ${bytes} = ${room}, down to a multiple of ${block}, less 2 of trailer: ${mtu}`,
    ),
  };
}

/** The result with the figures that go into boxes, for the IP versions that fit inside. */
function withUses(mtu: number, carried: Carried, steps: Step[], sources: readonly string[]): Worked<number> {
  const four = carried !== 6;
  const six = carried !== 4 && mtu >= 1280;
  return {
    name: 'Largest packet through the stack',
    value: mtu,
    unit: 'bytes',
    steps: [
      ...steps,
      ...(four ? [step('TCP segment over IPv4', `${mtu} - 40 = ${mtu - 40}`)] : []),
      ...(six ? [step('TCP segment over IPv6', `${mtu} - 60 = ${mtu - 60}`)] : []),
      four
        ? step('ping that must pass', `${mtu} - 28 = ${mtu - 28}`)
        : step('ping over IPv6 that must pass', `${mtu} - 48 = ${mtu - 48}`),
      step('largest packet', mtu),
    ],
    source: sources.join(', '),
    ...(carried !== 4 && mtu < 1280 && { means: 'IPv6 needs 1280: it does not fit through this stack.' }),
  };
}

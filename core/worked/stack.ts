import { bad, ok, type Result } from '../result.ts';
import { step, type Step, type Worked } from './worked.ts';

/** One wrapping of packets: what it takes away from the largest packet that fits inside. */
interface Layer {
  readonly name: string;
  readonly says: string;
  /** Bytes around each packet. */
  readonly bytes: number;
  readonly source: string;
  /** Packets inside are padded to this, with two more bytes of trailer: the block of an encryption. */
  readonly block?: number;
}

/** Wrappings, by the name under which a sum takes them. From memory, by the standards named. */
export const layers: readonly Layer[] = [
  { name: 'vlan', says: 'VLAN tag: grows the frame, not the packet', bytes: 0, source: 'IEEE 802.1Q' },
  { name: 'pppoe', says: 'PPPoE and PPP, 6 + 2', bytes: 8, source: 'RFC 2516 section 7' },
  { name: 'ds-lite', says: 'IPv6 around IPv4', bytes: 40, source: 'RFC 6333 section 5.3' },
  { name: '6in4', says: 'IPv4 around IPv6', bytes: 20, source: 'RFC 4213 section 3.2' },
  { name: 'l2tp', says: 'IPv4 20, UDP 8, L2TP 8, PPP 4', bytes: 40, source: 'RFC 2661 sections 3.1, 8.1' },
  { name: 'pptp', says: 'IPv4 20, GRE 16, PPP 4', bytes: 40, source: 'RFC 2637 section 4.1' },
  {
    name: 'wireguard4',
    says: 'IPv4 20, UDP 8, header 16, tag 16',
    bytes: 60,
    source: "the protocol's paper",
  },
  {
    name: 'wireguard6',
    says: 'IPv6 40, UDP 8, header 16, tag 16',
    bytes: 80,
    source: "the protocol's paper",
  },
  {
    name: 'esp4',
    says: 'IPv4 20, UDP 8, ESP 8, vector 8, check 16, padding',
    bytes: 60,
    source: 'RFC 4303, RFC 4106, RFC 3948',
    block: 4,
  },
];

/** Largest packet inside one more wrapping. */
function inside(outer: number, layer: Layer): { mtu: number; step: Step } {
  if (layer.block === undefined) {
    const mtu = outer - layer.bytes;
    return {
      mtu,
      step: step(`${layer.name}: ${layer.says}`, layer.bytes === 0 ? '- 0' : `- ${layer.bytes} = ${mtu}`),
    };
  }
  const room = outer - layer.bytes;
  const mtu = room - (room % layer.block) - 2;
  return {
    mtu,
    step: step(`${layer.name}: ${layer.says}`, `- ${layer.bytes}, to ${layer.block}, - 2 = ${mtu}`),
  };
}

/**
 * Largest packet that passes a stack of wrappings unfragmented, outermost first.
 * @param linkBytes largest packet of the Ethernet below: 1500, or 1508 where the link carries small jumbo frames
 * @param frameBytes largest frame the gear takes with its tag: 1522, or 1518 where a tag costs four bytes
 */
export function stackWorked(names: readonly string[], linkBytes = 1500, frameBytes = 1522): Result<Worked> {
  const steps: Step[] = [step('Ethernet', linkBytes)];
  const sources = ['RFC 894'];
  let mtu = linkBytes;
  for (const [index, name] of names.entries()) {
    const layer = layers.find((each) => each.name === name);
    if (!layer)
      return bad(
        'unknown-layer',
        `"${name}" is no wrapping known here: ${layers.map((each) => each.name).join(', ')}.`,
      );
    const outermost = names.slice(0, index).every((each) => each === 'vlan');
    if (name === 'vlan' && !outermost)
      return bad('layer-order', 'A VLAN tag belongs next to Ethernet: write it first.');
    if (name === 'vlan' && frameBytes < 1518 + 4) {
      mtu -= 4;
      steps.push(step(`vlan: gear takes frames of ${frameBytes} only`, `- 4 = ${mtu}`));
    } else if (name === 'pppoe' && linkBytes >= 1508 && outermost) {
      mtu = Math.min(1500, mtu - layer.bytes);
      steps.push(step('pppoe: 6 + 2 on a link that carries 1508', `- 8 = ${mtu}`));
      sources.push('RFC 4638');
    } else {
      const next = inside(mtu, layer);
      mtu = next.mtu;
      steps.push(next.step);
    }
    if (!sources.includes(layer.source)) sources.push(layer.source);
  }
  if (mtu < 68) return bad('too-deep', `Nothing is left after these wrappings: ${mtu} bytes.`);
  return ok({
    name: 'Largest packet through the stack',
    value: mtu,
    unit: 'bytes',
    steps: [
      ...steps,
      step('TCP segment over IPv4', `${mtu} - 40 = ${mtu - 40}`),
      step('TCP segment over IPv6', `${mtu} - 60 = ${mtu - 60}`),
      step('ping that must pass', `${mtu} - 28 = ${mtu - 28}`),
      step('largest packet', mtu),
    ],
    source: sources.join(', '),
    ...(mtu < 1280 && { means: 'IPv6 needs 1280: it does not fit through this stack.' }),
  });
}

import { trafficTitles } from '../../plan/catalogue/failover.ts';
import type { Header } from '../../base/net/packet.ts';
import { practice } from '../../base/worked/worked.ts';
import type { TrafficKind } from '../../plan/schema.ts';

/** What a kind of traffic does when its line dies, and what the people say who use it. */
export interface Traffic {
  readonly kind: TrafficKind;
  /** In the plural. */
  readonly title: string;
  /** A packet of it, for the rules and the paths. */
  readonly sample: Pick<Header, 'protocol' | 'destinationPort'>;
  /** It tries again after so long, at most. */
  readonly retrySeconds: number;
  /** It hangs on one session: a new source address ends it. */
  readonly session: boolean;
  /** A session that hears nothing gives up by itself after so long; Infinity where it never does. */
  readonly givesUpSeconds: number;
  /** Loss and round trip from which on nobody calls it working. */
  readonly lossLimitPercent: number;
  readonly delayLimitMs: number;
  /** It needs a name to be looked up before it begins. */
  readonly names: boolean;
  readonly says: { readonly works: string; readonly slow: string; readonly broken: string };
  readonly source: string;
}

const kinds: readonly Omit<Traffic, 'title'>[] = [
  {
    kind: 'web',
    sample: { protocol: 'tcp', destinationPort: 443 },
    retrySeconds: 5,
    session: false,
    givesUpSeconds: 0,
    lossLimitPercent: 30,
    delayLimitMs: 3000,
    names: true,
    says: {
      works: 'pages open',
      slow: 'pages come slowly today',
      broken: '"The page does not open." "The Wi-Fi is on, but there is no internet."',
    },
    source: practice,
  },
  {
    kind: 'transfer',
    sample: { protocol: 'tcp', destinationPort: 443 },
    retrySeconds: 5,
    session: true,
    // R2, after which a connection is closed, is at least 100 s.
    givesUpSeconds: 100,
    lossLimitPercent: 10,
    delayLimitMs: 3000,
    names: true,
    says: {
      works: 'the copy goes on',
      slow: 'the copy has slowed down',
      broken: '"The copy has stopped at the same figure."',
    },
    source: 'RFC 1122 section 4.2.3.5; retry: common practice, no source',
  },
  {
    kind: 'call',
    sample: { protocol: 'udp', destinationPort: 5060 },
    retrySeconds: 30,
    session: true,
    givesUpSeconds: 20,
    lossLimitPercent: 5,
    delayLimitMs: 400,
    names: false,
    says: {
      works: 'both hear each other',
      slow: '"You sound as if you were under water."',
      broken: '"Hello? Hello? … The call is gone, and the telephone shows no service."',
    },
    source: practice,
  },
  {
    kind: 'card',
    sample: { protocol: 'tcp', destinationPort: 443 },
    retrySeconds: 10,
    session: false,
    givesUpSeconds: 0,
    lossLimitPercent: 20,
    delayLimitMs: 3000,
    names: true,
    says: {
      works: 'cards are taken',
      slow: 'card payments are slow',
      broken: '"It says: no connection. Have you got cash?"',
    },
    source: practice,
  },
  {
    kind: 'tunnel',
    sample: { protocol: 'udp', destinationPort: 51820 },
    // Ten seconds without an answer, then a handshake that is tried again after five.
    retrySeconds: 15,
    session: true,
    givesUpSeconds: Number.POSITIVE_INFINITY,
    lossLimitPercent: 40,
    delayLimitMs: 5000,
    names: false,
    says: {
      works: 'head office is reached',
      slow: 'the shared folder is slow',
      broken: '"The folder of head office is empty."',
    },
    source: "the protocol's paper, section 6.1 (from memory)",
  },
  {
    kind: 'inbound',
    sample: { protocol: 'tcp', destinationPort: 443 },
    retrySeconds: 10,
    session: false,
    givesUpSeconds: 0,
    lossLimitPercent: 30,
    delayLimitMs: 3000,
    names: false,
    says: {
      works: 'it answers from outside',
      slow: 'it answers slowly',
      broken: '"Your page does not answer. Is anybody there?"',
    },
    source: practice,
  },
];

export const traffic: Readonly<Record<TrafficKind, Traffic>> = Object.fromEntries(
  kinds.map((each) => [each.kind, { ...each, title: trafficTitles[each.kind] }]),
) as Record<TrafficKind, Traffic>;

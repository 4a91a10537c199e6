import { equals, figure, shown, step, type Worked, worked } from './worked.ts';

/**
 * Codecs of telephone calls: their rate in kb/s, and how they bear loss by ITU-T G.113 appendix I (equipment impairment
 * Ie, robustness Bpl against random loss, with loss concealed; from memory).
 */
export const codecs = {
  g711: { title: 'G.711', kbps: 64, impairment: 0, robustness: 25.1 },
  g722: { title: 'G.722', kbps: 64, impairment: 13, robustness: 14 },
  g726: { title: 'G.726 at 32 kb/s', kbps: 32, impairment: 7, robustness: 18 },
  g729: { title: 'G.729', kbps: 8, impairment: 11, robustness: 19 },
} as const;
export type Codec = keyof typeof codecs;

/** IPv4, UDP and RTP before the voice: 20 + 8 + 12 bytes (RFC 791, RFC 768, RFC 3550 section 5.1). */
const headerBytes = 40;

/**
 * How many calls a line carries one way, and what one takes.
 * @param packetMs voice in one packet
 * @param layerBytes what the link adds to each packet: 18 for Ethernet with its check, 26 with PPPoE
 */
export function callsWorked(
  codec: Codec,
  packetMs: number,
  layerBytes: number,
  rateMbps: number,
): Worked<number> {
  const { title, kbps } = codecs[codec];
  const voice = (kbps * packetMs) / 8;
  const bytes = voice + headerBytes + layerBytes;
  const perSecond = 1000 / packetMs;
  const one = (bytes * 8 * perSecond) / 1000;
  return worked(
    'Calls at once, one way',
    Math.floor((rateMbps * 1000) / one),
    'calls',
    [
      step(`voice in ${packetMs} ms of ${title}`, `${kbps} × ${packetMs} / 8 ${equals(voice)} bytes`),
      step(
        'with IP, UDP, RTP and the link',
        `${figure(voice)} + ${headerBytes} + ${layerBytes} ${equals(bytes, 2, Number.isInteger(voice))} bytes`,
      ),
      step('packets a second', `1000 / ${packetMs} ${equals(perSecond)}`),
      step('one call', `${figure(bytes)} × 8 / ${packetMs} ${equals(one)} kb/s`),
      step(
        'calls',
        `${figure(rateMbps * 1000)} / ${figure(one)}, rounded down: ${Math.floor((rateMbps * 1000) / one)}`,
      ),
    ],
    'RFC 3550 section 5.1; RFC 3551 section 4.5 (rates of the codecs)',
    'Each way. Leave a third of the line for what is not voice, or calls wait behind it (common practice, no source).',
  );
}

/**
 * Quality of a call: the rating R of ITU-T G.107 (from memory) with its usual values, and the mean opinion that follows.
 * The impairment by delay is the short form of R. G. Cole and J. H. Rosenbluth, "Voice over IP performance monitoring",
 * 2001 (from memory).
 */
export function callQualityWorked(codec: Codec, oneWayMs: number, lossPercent: number): Worked<number> {
  const { title, impairment, robustness } = codecs[codec];
  const late = Math.max(0, oneWayMs - 177.3);
  const byDelay = 0.024 * oneWayMs + 0.11 * late;
  const byLoss = impairment + ((95 - impairment) * lossPercent) / (lossPercent + robustness);
  const rating = Math.min(100, Math.max(0, 93.2 - byDelay - byLoss));
  const opinion = rating === 0 ? 1 : 1 + 0.035 * rating + rating * (rating - 60) * (100 - rating) * 7e-6;
  return worked(
    'Mean opinion score',
    Math.max(1, opinion),
    '',
    [
      step('without faults', '93.2'),
      step('delay', `0.024 × ${figure(oneWayMs)} + 0.11 × ${figure(late)} ${equals(byDelay)}`),
      step(
        `${title} and loss`,
        `${impairment} + (95 - ${impairment}) × ${figure(lossPercent)} / (${figure(lossPercent)} + ${robustness}) ${equals(byLoss)}`,
      ),
      step('R', shown(rating)),
      step('mean opinion, 1 to 4.5', shown(Math.max(1, opinion))),
    ],
    'ITU-T G.107, G.113 appendix I (from memory)',
    opinion >= 4.03
      ? 'Users are satisfied (R of 80 or more).'
      : opinion >= 3.6
        ? 'Some users are dissatisfied (R of 70 to 80).'
        : 'Many users are dissatisfied: look for what delays or loses packets.',
  );
}

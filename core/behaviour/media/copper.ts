import { equals, practice, step, worked, type Worked } from '../../base/worked/worked.ts';

export interface Judged {
  readonly verdict: 'good' | 'poor' | 'bad';
  readonly worked: Worked<number>;
}

/** Signal-to-noise margin of a DSL line against the 6 dB it is usually trained for (common practice, no source). */
export function dslMargin(marginDb: number): Judged {
  const spare = Math.round((marginDb - 6) * 1000) / 1000;
  const verdict = marginDb < 3 ? 'bad' : marginDb < 6 ? 'poor' : 'good';
  return {
    verdict,
    worked: worked(
      'Margin above the target',
      spare,
      'dB',
      [
        step('margin shown', `${marginDb} dB`),
        step('usual target', '- 6 dB'),
        step('to spare', `${spare} dB`),
      ],
      practice,
      verdict === 'good'
        ? 'Enough: the line holds through ordinary noise.'
        : verdict === 'poor'
          ? 'Tight: it will lose sync when something switches. Check the filters and the inside wiring first.'
          : 'Too little: it drops. Try the test socket with everything else unplugged, then call the provider with this figure.',
    ),
  };
}

/** Attenuation to length for ordinary 0.5 mm pairs: about 13.8 dB a kilometre at the ADSL test tone (practice). */
export function dslLength(attenuationDb: number): Worked {
  const kilometres = attenuationDb / 13.8;
  return worked(
    'Length of the pair, roughly',
    kilometres,
    'km',
    [
      step('a kilometre of 0.5 mm pair', '13.8 dB'),
      step('length', `${attenuationDb} / 13.8 ${equals(kilometres)} km`),
    ],
    practice,
    'Much longer than the way to the cabinet means a bad joint or a bridged tap in the house.',
  );
}

/** Received power of a cable modem's downstream: -15 to +15 dBmV by the specification, -7 to +7 wanted in practice. */
export function cablePower(powerDbmv: number): Judged {
  const away = Math.abs(powerDbmv);
  const verdict = away > 15 ? 'bad' : away > 7 ? 'poor' : 'good';
  return {
    verdict,
    worked: worked(
      'Received power of the cable channel',
      powerDbmv,
      'dBmV',
      [
        step('allowed', '-15 to +15 dBmV'),
        step('wanted', '-7 to +7 dBmV'),
        step('shown', `${powerDbmv} dBmV`),
      ],
      `DOCSIS physical layer, from memory; wanted: ${practice}`,
      verdict === 'good'
        ? 'In order.'
        : powerDbmv < 0
          ? 'Weak: one splitter too many, a loose connector, or water in the drop cable.'
          : 'Strong: the modem may clip; the provider sets an attenuator.',
    ),
  };
}

/**
 * Transmit power of a cable modem, as loud as the head end asks for: 35 to 49 dBmV wanted (common practice, no source),
 * and near 54 dBmV most modems have nothing left (DOCSIS physical layer, from memory).
 */
export function cableUpstream(upstreamDbmv: number): Judged {
  const verdict = upstreamDbmv > 54 ? 'bad' : upstreamDbmv > 49 || upstreamDbmv < 35 ? 'poor' : 'good';
  return {
    verdict,
    worked: worked(
      'Transmit power of the cable modem',
      upstreamDbmv,
      'dBmV',
      [
        step('most that modems have', 'about 54 dBmV'),
        step('wanted', '35 to 49 dBmV'),
        step('shown', `${upstreamDbmv} dBmV`),
      ],
      `DOCSIS physical layer, from memory; wanted: ${practice}`,
      verdict === 'good'
        ? 'In order.'
        : upstreamDbmv < 35
          ? 'Low: there is little loss on the way back, and noise from the house reaches the head end with it.'
          : 'High: the modem has to shout over splitters, a loose connector or a bad cable, and falls off the line when it has nothing left.',
    ),
  };
}

/** Signal-to-noise of a 256-QAM cable channel: 33 dB and more wanted, under 30 it fails (common practice, no source). */
export function cableSnr(snrDb: number): Judged {
  const verdict = snrDb < 30 ? 'bad' : snrDb < 33 ? 'poor' : 'good';
  return {
    verdict,
    worked: worked(
      'Signal above noise of the cable channel',
      snrDb,
      'dB',
      [step('needed for 256-QAM', '30 dB'), step('wanted', '33 dB'), step('shown', `${snrDb} dB`)],
      practice,
      verdict === 'good'
        ? 'In order.'
        : 'Errors will show in the evening: tighten every connector, then call the provider.',
    ),
  };
}

/** What a delay does to calls: 150 ms one way is good, 400 ms is the limit of planning (ITU-T G.114). */
export function delayWorked(roundTripMs: number): Judged {
  const oneWay = roundTripMs / 2;
  const verdict = oneWay > 400 ? 'bad' : oneWay > 150 ? 'poor' : 'good';
  return {
    verdict,
    worked: worked(
      'Delay one way',
      oneWay,
      'ms',
      [
        step('round trip', `${roundTripMs} ms`),
        step('half', `${oneWay} ms`),
        step('good for calls up to', '150 ms'),
        step('limit of planning', '400 ms'),
        step('delay one way', `${oneWay} ms`),
      ],
      'ITU-T G.114',
      verdict === 'good'
        ? 'Calls and tunnels do not notice.'
        : verdict === 'poor'
          ? 'People on calls talk into each other; one connection alone cannot fill the line (see its window).'
          : 'Calls are for emergencies only; tunnels need long timeouts.',
    ),
  };
}

/** The least round trip over a satellite at that height: four times the height at the speed of light. */
export function satelliteFloorWorked(heightKm = 35_786): Worked<number> {
  const value = (4 * heightKm * 1e6) / 299_792_458;
  return worked(
    'Least round trip over the satellite',
    value,
    'ms',
    [
      step('speed of light', '299792.458 km/s'),
      step('up and down, there and back', `4 × ${heightKm} × 1000 / 299792.458 ${equals(value)} ms`),
      step('round trip', `${Math.floor(value)} ms at least, rounded down`),
    ],
    'physics',
    'A shown round trip below this is not measured over that satellite.',
  );
}

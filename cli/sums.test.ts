import { describe, expect, test } from '@jest/globals';
import { run } from './main.ts';

/** The value of a sum, asked for as a person would on the command line. */
function sum(name: string, ...inputs: string[]): unknown {
  let [out, error] = ['', ''];
  run(['sum', name, ...inputs], {
    stdout: { write: (text) => (out += text) },
    stderr: { write: (text) => (error += text) },
  });
  if (error !== '') throw new Error(error);
  return (JSON.parse(out) as { value: unknown }).value;
}

// Each value from the source named; the 3GPP, ITU-T and IEEE ones from memory.
describe('netter sum', () => {
  test.each([
    ['RFC 1122 section 3.2.1.3', 'subnet', ['prefix=10.9.8.0/21'], 2046],
    ['RFC 3021', 'subnet', ['prefix=192.0.2.0/31'], 2],
    ['RFC 6598', 'classify', ['address=100.64.3.2'], 'carrier-shared'],
    ['RFC 1918', 'classify', ['address=172.31.255.255'], 'private'],
    ['RFC 1918, one beyond', 'classify', ['address=172.32.0.0'], 'public'],
    ['RFC 3927', 'classify', ['address=169.254.7.7'], 'link-local'],
    ['RFC 2544', 'classify', ['address=198.19.255.1'], 'benchmarking'],
    ['RFC 3849', 'classify', ['address=2001:db8::1'], 'documentation'],
    ['RFC 4193', 'classify', ['address=fd12:3456:789a::1'], 'unique-local'],
    ['RFC 9293 section 3.7.1', 'mss', ['mtu=1492'], 1452],
    ['RFC 9293 section 3.7.1', 'mss', ['mtu=1492', 'family=6'], 1432],
    ['RFC 791, RFC 792', 'ping', ['mtu=1500'], 1472],
    ['RFC 6349 section 4.1.1', 'tcp-ceiling', ['rate=1000'], 949.28],
    ['RFC 6349 section 4.1.1', 'tcp-ceiling', ['rate=1000', 'timestamps=yes'], 941.48],
    ['RFC 2131 section 4.4.5', 'lease', ['lease=86400'], 43_200],
    ['RFC 2516 section 7', 'stack', ['layers=vlan,pppoe'], 1492],
    ['RFC 4638', 'stack', ['layers=vlan,pppoe', 'link=1508', 'rfc4638=yes'], 1500],
    ['RFC 6333 section 5.3', 'stack', ['layers=ds-lite'], 1460],
    ["the protocol's paper", 'stack', ['layers=pppoe,wireguard6'], 1412],
    ['IEEE 802.1Q, gear of 1518', 'stack', ['layers=vlan', 'frames=1518'], 1496],
    ['IEC 61078', 'availability', ['percent=99.9'], 43.2],
    // 40 × (1340 - 40) / (1340 + 60).
    [
      "the protocol's paper",
      'tunnel-speed',
      ['up=100', 'down=40', 'mtu=1340', 'encryption=180', 'delay=48'],
      37.14,
    ],
    // 256 KiB in 200 ms.
    [
      'RFC 6349 section 3.3.1',
      'tunnel-speed',
      ['up=500', 'down=500', 'mtu=1400', 'encryption=900', 'delay=200', 'window=256'],
      10.49,
    ],
    ['arithmetic', 'tunnels', ['sites=5'], 10],
    ['RFC 5880 section 6.8.4', 'detection', ['interval=5', 'timeout=2', 'losses=3'], 17],
    ['arithmetic', 'return', ['interval=5', 'successes=4', 'hold=60'], 80],
    ['Feller, vol. 1, XIII.7', 'false-alarms', ['loss=1', 'interval=5', 'losses=3', 'targets=1'], 0.51],
    [
      'binomial: 20 probes at 0.4, 10 of 19',
      'window-alarms',
      ['loss=40', 'interval=1296', 'targets=1', 'window=20', 'threshold=50'],
      // 2000 probes × 0.4 × 0.6 × C(19, 9) × 0.4^9 × 0.6^10.
      70.28,
    ],
    [
      'nine of ten lost, three in a row of three: 1 - 0.729',
      'misses',
      ['loss=90', 'duration=15', 'interval=5', 'losses=3', 'targets=1'],
      27.1,
    ],
    ['IEC 61078', 'lines-together', ['lines=1/8760,1/8760'], 10_800],
    [
      'arithmetic',
      'backup-data',
      ['hours=3', 'traffic=2', 'interval=15', 'targets=2', 'cap=2', 'price=3'],
      2.76,
    ],
    ['common practice', 'switch-time', ['type=cellular', 'standby=dialled'], 90],
    ['common practice', 'switch-time', ['type=cellular', 'standby=up'], 2],
    ['common practice', 'ups', ['energy=150', 'load=45'], 170],
    [
      'RFC 5880 and 10 s until a terminal tries again',
      'outage',
      ['kind=card', 'interval=5', 'timeout=2', 'losses=3', 'switch=2'],
      29,
    ],
    [
      'arithmetic: 15 s twice and 0.2 s fit into 33 s, 20 s twice do not',
      'watching',
      ['within=45', 'false=1', 'data=1', 'loss=1', 'delay=40', 'targets=2', 'after=12'],
      15,
    ],
    ['arithmetic', 'cap-cost', ['hours=6', 'traffic=8', 'left=10', 'price=2'], 23.2],
    ['RFC 6349 section 3.3.1', 'window', ['rate=44.21', 'rtt=25', 'window=64'], 20.97],
    ['RFC 6349 section 4.1.1', 'rate-verdict', ['runs=281,279,262', 'contract=300'], 98],
    ['3GPP TS 36.101 section 5.7.3', 'earfcn', ['channel=6300'], 806],
    ['3GPP TS 36.101 section 5.7.3', 'earfcn', ['channel=1300'], 1815],
    ['3GPP TS 38.104 section 5.4.2.1', 'nr-arfcn', ['channel=640000'], 3600],
    ['3GPP TS 36.133 section 9.1.4', 'rsrp', ['n=53'], -88],
    ['3GPP TS 36.133 section 9.1.7', 'rsrq', ['n=20'], -10],
    ['3GPP TS 27.007 section 8.5', 'csq', ['n=17'], -79],
    ['3GPP TS 27.007: unknown', 'csq', ['n=99'], null],
    ['3GPP TS 36.214', 'rsrq-check', ['rsrp=-98', 'rssi=-71', 'width=10'], -10],
    ['Shannon: 1 bit/s/Hz at 0 dB', 'cell-rate', ['sinr=0', 'width=20', 'streams=1'], 18],
    ['ITU-R P.525', 'free-space-loss', ['mhz=1000', 'km=1'], 92.4],
    ['ITU-R P.526: 550 √(0.25 / 1000)', 'fresnel-zone', ['mhz=1000', 'km=1'], 8.696],
    ['physics', 'noise', ['width=10', 'figure=0'], -104],
    ['arithmetic', 'band-mask', ['bands=1,3,7,20'], '0x80045'],
    ['arithmetic', 'mask-bands', ['mask=0x80044'], '3, 7, 20'],
    ['square root law', 'antenna-cable', ['db=20', 'at=900', 'mhz=3600', 'metres=10'], 4],
    [
      'common practice, by hand',
      'optical',
      ['system=gpon-b', 'km=4', 'connectors=4', 'splices=6', 'ways=32'],
      19.9,
    ],
    ['common practice', 'dsl-margin', ['db=8.1'], 2.1],
    ['common practice', 'dsl-length', ['db=27.6'], 2],
    ['DOCSIS', 'cable-power', ['dbmv=-3.2'], -3.2],
    ['common practice', 'cable-snr', ['db=36.5'], 36.5],
    ['ITU-T G.114', 'delay', ['rtt=610'], 305],
    ['physics', 'satellite-floor', ['km=35786'], 477],
    ['arithmetic', 'power', ['volts=12', 'amps=1.5'], 18],
  ])('%s: %s %j is %j', (_source, name, inputs, value) => {
    const places = String(value).split('.')[1]?.length ?? 0;
    expect(sum(name, ...inputs)).toEqual(typeof value === 'number' ? expect.closeTo(value, places) : value);
  });

  test.each([
    ['stack', ['layers=onions'], 'unknown-layer'],
    ['stack', ['layers=pppoe,vlan'], 'layer-order'],
    ['earfcn', ['channel=4000'], 'unknown-channel'],
    ['rsrq-check', ['rsrp=-98', 'rssi=-71', 'width=7'], 'width'],
    ['rate-verdict', ['runs=281,279', 'contract=300'], 'too-few-runs'],
    ['rate-verdict', ['runs=281,fast,279', 'contract=300'], 'not-a-number'],
    ['optical', ['system=other', 'km=1', 'connectors=1', 'splices=1', 'ways=2'], 'optical-system'],
    ['optical', ['system=gpon-b', 'km=1', 'connectors=1', 'splices=1', 'ways=3'], 'splitter'],
    ['band-mask', ['bands=three'], 'bands'],
    ['mask-bands', ['mask=0xZZ'], 'band-mask'],
    ['window', ['rate=0', 'rtt=25', 'window=64'], 'number-outside'],
    ['delay', ['rtt=1e3'], 'not-a-number'],
  ])('%s %j is refused: %s', (name, inputs, code) =>
    expect(() => sum(name, ...inputs)).toThrow(`"error":"${code}"`),
  );
});

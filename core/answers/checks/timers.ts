import { roundTripOf } from '../../behaviour/failover/usual.ts';
import { delayWorked } from '../../behaviour/media/copper.ts';
import type { Watch } from '../../site/failover.ts';
import { replacing, type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Site } from '../../site/model.ts';
import { figure, practice, step, worked } from '../../base/worked/worked.ts';
import { note } from './note.ts';

/** Timers against the delay of the line that they wait for. */
export const timers: Check = {
  name: 'timers',
  run: (site) => [
    ...(site.lines.length < 2 ? [] : site.failover.watches.flatMap(tooShort)),
    ...keepAlive(site),
  ],
};

/** Twice the delay and a little: a probe that is answered a little late is not lost (RFC 6298 waits a second at least). */
const room = 2;

function tooShort(watch: Watch): Finding[] {
  const delay = roundTripOf(watch.line);
  if (delay === null || watch.targets.length === 0) return [];
  const { line, at } = watch;
  const found: Finding[] = [];
  const least = Math.ceil((delay * room) / 100) / 10;
  const why = (name: string, typed: number) =>
    worked(
      `${name} on ${line.name}`,
      typed,
      's',
      [
        step('round-trip time', `${figure(delay)} ms`),
        step('with room for a late answer', `${room} × ${figure(delay)} ms ≈ ${figure(least)} s`),
        step('typed', `${figure(typed)} s`),
      ],
      `RFC 6298 section 2; ${practice}`,
    );
  if (watch.timeoutSeconds * 1000 <= delay)
    found.push(
      note(
        'timeout-below-delay',
        'blocker',
        `${at}/timeoutSeconds`,
        `A probe over ${line.name} counts as lost after ${figure(watch.timeoutSeconds)} s, and the line needs ${figure(delay)} ms there and back: every probe is lost, and a good line counts as down.`,
        why('Probe timeout', watch.timeoutSeconds),
        replacing(`Wait ${least} s`, `${at}/timeoutSeconds`, least),
      ),
    );
  else if (watch.timeoutSeconds * 1000 < delay * room)
    found.push(
      note(
        'timeout-near-delay',
        'warning',
        `${at}/timeoutSeconds`,
        `A probe over ${line.name} counts as lost after ${figure(watch.timeoutSeconds)} s, and the line needs ${figure(delay)} ms when it is quiet: under load the answers come too late, and a good line counts as down.`,
        why('Probe timeout', watch.timeoutSeconds),
        replacing(`Wait ${least} s`, `${at}/timeoutSeconds`, least),
      ),
    );
  const threshold = watch.window?.delayMs;
  if (threshold !== undefined && threshold <= delay)
    found.push(
      note(
        'threshold-below-delay',
        'blocker',
        `${at}/windowDelayMs`,
        `${line.name} counts as down from ${figure(threshold)} ms on, and it needs ${figure(delay)} ms on a day without a fault: it would never count as up.`,
        delayWorked(delay).worked,
        replacing(`Set it to ${Math.ceil(delay * 3)} ms`, `${at}/windowDelayMs`, Math.ceil(delay * 3)),
      ),
    );
  return found;
}

/** A keepalive has to come before the NAT in between forgets (RFC 4787 REQ-5: two minutes at least). */
function keepAlive({ vpn }: Site): Finding[] {
  const seconds = vpn.keepAliveSeconds;
  if (vpn.way !== 'wireguard' || seconds === null || (seconds > 0 && seconds <= 120)) return [];
  const callers = vpn.peers.length + vpn.sites.filter(({ endpoint }) => endpoint.trim() === '').length;
  if (callers === 0) return [];
  return [
    note(
      'keepalive-late',
      'warning',
      '/vpn/keepAliveSeconds',
      seconds === 0
        ? 'No keepalive: once a client behind NAT has been silent for two minutes, nothing from this site reaches it until it sends again.'
        : `A keepalive every ${seconds} s exceeds the timeout of many NATs: they keep a mapping for two minutes, some for 30 s only.`,
      worked(
        'Persistent keepalive',
        seconds,
        's',
        [
          step('a NAT must keep a mapping', '120 s'),
          step('many keep it', '30 s'),
          step('typed', `${seconds} s`),
        ],
        `RFC 4787 REQ-5; ${practice}`,
      ),
      replacing('Use 25 s', '/vpn/keepAliveSeconds', 25),
    ),
  ];
}

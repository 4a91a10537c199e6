import { wanType } from '../../wan-types/index.ts';
import { medium } from '../media/index.ts';
import type { LinkFault } from '../media/type.ts';
import type { Line } from '../../site/model.ts';
import { standIns } from '../../wan-types/stand-ins.ts';
import { Recorder, seeded, type Exchange, type Fault } from './stand-in.ts';

const cablePulled: LinkFault = {
  name: 'no-link',
  title: 'The cable is not plugged in',
  light: 'no light at the WAN port',
  says: 'No link: cable, socket, or the device in front has no power. Nothing above it can work.',
};

export const faultsOf = (line: Line): readonly Fault[] => {
  const standIn = standIns[line.type];
  if (!standIn) return [];
  if (wanType(line.type).inRouter) return standIn.faults;
  const start = medium(line.medium).start;
  return [start?.fault ?? cablePulled, ...(start?.unsteady ? [start.unsteady] : []), ...standIn.faults];
};

/**
 * Brings a line up against its stand-in.
 * @param fault a name of `faultsOf`, or empty for none
 * @param seed the same seed, the same run
 */
export function bringUp(line: Line, fault: string, seed: number): Exchange | undefined {
  const standIn = standIns[line.type];
  if (!standIn) return undefined;
  const random = seeded(seed);
  const record = new Recorder();
  const finish = (up: boolean, says: string): Exchange => ({
    messages: record.messages,
    sights: record.sights,
    up,
    endsAt: record.now,
    says,
  });
  if (!wanType(line.type).inRouter) {
    const start = medium(line.medium).start;
    const broken = start?.fault ?? cablePulled;
    if (start) record.see(start.searching, 'no link yet', 'waiting for the line');
    if (fault === broken.name) {
      record.wait(start ? start.seconds[1] : 5);
      record.see(broken.light, 'cable unplugged', 'WAN link down');
      return finish(false, broken.says);
    }
    if (start?.unsteady && fault === start.unsteady.name) {
      for (let tries = 0; tries < 3; tries += 1) {
        record.wait(start.seconds[0] + (start.seconds[1] - start.seconds[0]) * random());
        record.see(start.ready, 'connecting', 'WAN link up');
        record.wait(5 + 40 * random());
        record.see(start.unsteady.light, 'no link', 'WAN link down');
      }
      return finish(false, start.unsteady.says);
    }
    if (start) {
      record.wait(start.seconds[0] + (start.seconds[1] - start.seconds[0]) * random());
      record.see(start.ready, 'connecting', 'WAN link up');
    }
  }
  const { up, says } = standIn.run(line, fault, record, random);
  return finish(up, says);
}

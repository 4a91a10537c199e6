import { bad, ok, type Result } from '../result.ts';

/** VLAN identifiers from `first` to `last`, both included (IEEE 802.1Q: 1 to 4094). */
export interface VlanRange {
  readonly first: number;
  readonly last: number;
}

/** Reads one VLAN ID, "20", or a range, "20-29". */
export function parseVlans(text: string): Result<VlanRange> {
  const typed = text.trim();
  if (typed === '') return bad('empty', 'The VLAN ID is missing.');
  const match = /^(\d{1,4})(?:\s*[-–]\s*(\d{1,4}))?$/.exec(typed);
  if (!match) return bad('not-a-vlan', `"${typed}" is not a VLAN ID; write 20, or a range like 20-29.`);
  const first = Number(match[1]);
  const last = match[2] === undefined ? first : Number(match[2]);
  const outside = [first, last].find((each) => each < 1 || each > 4094);
  if (outside !== undefined)
    return bad('vlan-outside', `${outside} is not a VLAN ID; they go from 1 to 4094 (IEEE 802.1Q).`);
  if (last < first)
    return bad('vlans-reversed', `The range ${typed} runs backwards; write ${last}-${first}.`);
  return ok({ first, last });
}

export const formatVlans = (ranges: readonly VlanRange[]): string =>
  ranges.map(({ first, last }) => (first === last ? `${first}` : `${first}-${last}`)).join(', ');

export const holdsVlan = (ranges: readonly VlanRange[], vlan: number): boolean =>
  ranges.some(({ first, last }) => first <= vlan && vlan <= last);

import { bad, ok, type Result } from '../result.ts';

/** Ports from `first` to `last`, both included (RFC 9293 section 3.1: 16 bits; 0 is not a port one can listen on). */
export interface PortRange {
  readonly first: number;
  readonly last: number;
}

export type Protocol = 'tcp' | 'udp' | 'icmp';

/** Reads one port, "8443", or a range, "8000-8010". */
export function parsePorts(text: string): Result<PortRange> {
  const typed = text.trim();
  if (typed === '') return bad('empty', 'The port is missing.');
  const match = /^(\d{1,5})(?:\s*[-–:]\s*(\d{1,5}))?$/.exec(typed);
  if (!match) return bad('not-a-port', `"${typed}" is not a port; write 8443, or a range like 8000-8010.`);
  const first = Number(match[1]);
  const last = match[2] === undefined ? first : Number(match[2]);
  const outside = [first, last].find((port) => port < 1 || port > 65535);
  if (outside !== undefined)
    return bad('port-outside', `${outside} is not a port; ports go from 1 to 65535.`);
  if (last < first)
    return bad('ports-reversed', `The range ${first}-${last} runs backwards; write ${last}-${first}.`);
  return ok({ first, last });
}

export const formatPorts = ({ first, last }: PortRange): string =>
  first === last ? `${first}` : `${first}-${last}`;
export const portCount = ({ first, last }: PortRange): number => last - first + 1;
export const portsOverlap = (a: PortRange, b: PortRange): boolean => a.first <= b.last && b.first <= a.last;
export const hasPort = (range: PortRange, port: number): boolean => range.first <= port && port <= range.last;

/** Whether two rules speak of a common protocol; "both" is TCP and UDP. */
export const protocolsMeet = (a: Protocol | 'both', b: Protocol | 'both'): boolean =>
  a === b || (a === 'both' && b !== 'icmp') || (b === 'both' && a !== 'icmp');

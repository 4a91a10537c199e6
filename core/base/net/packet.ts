import { formatAddress, type Address } from './address.ts';
import type { Protocol } from './ports.ts';

/** What translators and rules look at. Ports are 0 for ICMP. */
export interface Header {
  readonly protocol: Protocol;
  readonly source: Address;
  readonly sourcePort: number;
  readonly destination: Address;
  readonly destinationPort: number;
  /** Length of the whole IP packet in bytes. */
  readonly sizeBytes: number;
}

export const reversed = (header: Header): Header => ({
  ...header,
  source: header.destination,
  sourcePort: header.destinationPort,
  destination: header.source,
  destinationPort: header.sourcePort,
});

/** "10.24.10.20:50000 > 203.0.113.9:8443 tcp" */
export function headerText(header: Header): string {
  const port = (host: Address, number: number): string =>
    header.protocol === 'icmp'
      ? formatAddress(host)
      : host.family === 6
        ? `[${formatAddress(host)}]:${number}`
        : `${formatAddress(host)}:${number}`;
  return `${port(header.source, header.sourcePort)} > ${port(header.destination, header.destinationPort)} ${header.protocol}`;
}

export const serviceText = (header: Header): string =>
  header.protocol === 'icmp' ? 'ping' : `${header.protocol} ${header.destinationPort}`;

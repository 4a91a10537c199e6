import type { Forward, Line, Network } from '../site/model.ts';
import type { FarSite } from '../site/vpn.ts';
import type { Header, Outcome } from './packet.ts';

/** The side of the router a packet comes in on or leaves by. */
export type Side =
  { readonly kind: 'network'; readonly network: Network } | { readonly kind: 'line'; readonly line: Line };

/** Where it may leave: into the tunnel to a joined site as well. */
export type Egress = Side | { readonly kind: 'tunnel'; readonly far: FarSite };

export type Verdict =
  | {
      readonly goes: 'on';
      readonly header: Header;
      readonly egress: Egress;
      readonly forward: Forward | undefined;
      readonly hairpin: Line | undefined;
    }
  | { readonly goes: 'router'; readonly header: Header; readonly service: string }
  | { readonly goes: 'nowhere'; readonly outcome: Outcome };

/** Writes down one look at the packet; the header that it leaves with is the packet's from then on. */
export type Note = (
  stage: string,
  at: string | undefined,
  looked: () => string,
  decided: () => string,
  after?: Header,
  stops?: boolean,
) => void;

export const sideName = (side: Egress): string =>
  side.kind === 'network'
    ? side.network.name
    : side.kind === 'line'
      ? side.line.name
      : `the tunnel to ${side.far.name}`;

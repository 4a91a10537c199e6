import type { Level } from './level.ts';
import { titleAt } from '../../plan/places.ts';
import type { Network, Site } from '../../site/model.ts';

/** What is expected to pass to and from a network, by what it is for. */
export interface Expectation {
  readonly fromInternet: Level;
  readonly fromNetworks: Level;
  readonly fromRemoteUsers: Level;
  readonly fromSites: Level;
  readonly toNetworks: Level;
  readonly toInternet: Level;
  readonly toSites: Level;
  /** The pages of the router and of the equipment in front open from here. */
  readonly manages: boolean;
}
export type ExpectedLevel = Exclude<keyof Expectation, 'manages'>;

/** Nothing in, and out only as named. */
const shut: Expectation = {
  fromInternet: 'nothing',
  fromNetworks: 'nothing',
  fromRemoteUsers: 'nothing',
  fromSites: 'nothing',
  toNetworks: 'nothing',
  toInternet: 'everything',
  toSites: 'nothing',
  manages: false,
};

const open: Expectation = {
  fromInternet: 'named',
  fromNetworks: 'everything',
  fromRemoteUsers: 'everything',
  fromSites: 'everything',
  toNetworks: 'everything',
  toInternet: 'everything',
  toSites: 'everything',
  manages: false,
};

/** What is expected of each purpose (common practice, no source); the owner of a network may say otherwise in the plan. */
export const expectationByPurpose: Record<Network['purpose'], Expectation> = {
  staff: { ...open, fromNetworks: 'named' },
  guests: shut,
  payment: { ...shut, toNetworks: 'named', toInternet: 'named', toSites: 'named' },
  plant: { ...open, fromRemoteUsers: 'named', toNetworks: 'nothing', toInternet: 'named' },
  cameras: {
    ...open,
    fromRemoteUsers: 'named',
    toNetworks: 'nothing',
    toInternet: 'named',
    toSites: 'named',
  },
  voice: { ...open, fromNetworks: 'named', fromRemoteUsers: 'named', toNetworks: 'named' },
  management: {
    ...shut,
    fromRemoteUsers: 'named',
    toNetworks: 'everything',
    manages: true,
  },
  other: open,
};

/** Purposes from which a router may be managed where no network is there for that alone. */
const mayManage: readonly Network['purpose'][] = ['staff', 'other'];

/** What is expected of a network: its purpose, and what its owner says otherwise. */
export function expectationOf(site: Site, network: Network): Expectation {
  const usual = expectationByPurpose[network.purpose];
  const { expects } = network;
  const level = (key: ExpectedLevel): Level => (expects[key] === 'usual' ? usual[key] : expects[key]);
  const managesUsually =
    usual.manages || (network === site.router.adminNetwork && mayManage.includes(network.purpose));
  return {
    fromInternet: level('fromInternet'),
    fromNetworks: level('fromNetworks'),
    fromRemoteUsers: level('fromRemoteUsers'),
    fromSites: level('fromSites'),
    toNetworks: level('toNetworks'),
    toInternet: level('toInternet'),
    toSites: level('toSites'),
    manages: expects.manages === 'usual' ? managesUsually : expects.manages === 'yes',
  };
}

const others = {
  fromInternet: 'the internet',
  fromNetworks: 'other networks',
  fromRemoteUsers: 'remote users',
  fromSites: 'connected sites',
  toNetworks: 'other networks',
  toInternet: 'the internet',
  toSites: 'connected sites',
} as const satisfies Record<ExpectedLevel, string>;

/** What is expected of a network as two sentences: who reaches it, and what it reaches. */
export function expectedSentence({ purpose, expects }: Pick<Network, 'purpose' | 'expects'>): string {
  const usual = expectationByPurpose[purpose];
  const said = (direction: 'from' | 'to'): string =>
    (Object.keys(others) as ExpectedLevel[])
      .flatMap((key) => {
        const level = expects[key] === 'usual' ? usual[key] : expects[key];
        if (!key.startsWith(direction) || level === 'nothing') return [];
        const limit = key === 'toInternet' ? 'named addresses only' : 'single devices only';
        return [level === 'named' ? `${others[key]} (${limit})` : others[key]];
      })
      .join(', ') || (direction === 'from' ? 'nobody' : 'nothing');
  return `for ${titleAt('/networks/*/purpose', purpose)}. Reached by ${said('from')}. Reaches ${said('to')}.`;
}

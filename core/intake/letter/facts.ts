import type { CableCategory } from '../../base/worked/cabling.ts';
import type { WifiBand } from '../../base/worked/wifi.ts';
import type { MediumName, NetworkPlan, WanTypeName } from '../../plan/schema.ts';

/** A fact of the brief, and the sentence that says where it came from. */
export interface Said<T> {
  readonly value: T;
  readonly from: string;
}

export type Purpose = NetworkPlan['purpose'];
export type BoxMode = 'none' | 'bridged' | 'routes';

/** What was said about one line of the site. */
export interface LineFacts {
  /** How the text tells it from the others: its medium, or its number. */
  key: string;
  backup: boolean;
  medium?: Said<MediumName>;
  type?: Said<WanTypeName>;
  /** The paperwork speaks of a user name, whether or not it names it. */
  user?: Said<boolean>;
  userName?: Said<string>;
  vlan?: Said<number>;
  vlanPriority?: Said<number>;
  /** Said to have no VLAN. */
  untagged?: Said<boolean>;
  address?: Said<string>;
  prefixLength?: Said<number>;
  gateway?: Said<string>;
  /** The subnet of the line as a whole, with its length or alone, and a first usable address, where the paper names them. */
  block?: Said<string>;
  network?: Said<string>;
  usable?: Said<string>;
  resolvers?: Said<readonly string[]>;
  /** Hosts on the internet that are probed over the line. */
  probes?: Said<readonly string[]>;
  routedBlock?: Said<string>;
  apn?: Said<string>;
  cardNumber?: Said<string>;
  capGigabytes?: Said<number>;
  carrierNat?: Said<boolean>;
  downMbps?: Said<number>;
  upMbps?: Said<number>;
  mtuBytes?: Said<number>;
  tiedMac?: Said<string>;
  translator?: Said<string>;
  server?: Said<string>;
  box?: Said<BoxMode>;
  insidePrefix?: Said<string>;
  insideAddress?: Said<string>;
  activation?: Said<'active' | 'not-yet'>;
  notes: Said<string>[];
}

/** What was said about one inside network. */
export interface NetworkFacts {
  key: string;
  name: Said<string>;
  purpose: Purpose;
  vlan?: Said<number>;
  prefix?: Said<string>;
  routerAddress?: Said<string>;
  poolFrom?: Said<string>;
  poolTo?: Said<string>;
  expectedDevices?: Said<number>;
  /** What all on it may take of the lines together, in Mb/s. */
  limitMbps?: Said<number>;
}

/** A device, or several of one kind. */
export interface DeviceFacts {
  name: Said<string>;
  /** What it is, in a word, singular: "camera". */
  kind: string;
  purpose: Purpose;
  count: number;
  mac?: Said<string>;
  address?: Said<string>;
  reserved: boolean;
}

/** A box behind the router: an access point, one that is joined by air, a second router. */
export interface BoxFacts {
  kind: 'access-point' | 'bridge' | 'router';
  /** Where it stands, as the text has it; empty where it does not say. */
  place: string;
  /** Whose it is, where it is somebody else's. */
  who: string;
  /** Whether a cable reaches it, where the text says so. */
  cable?: boolean;
  /** What the cable to it is made of, and its length in metres. */
  category?: CableCategory;
  cableMetres?: number;
  /** Metres through the air, where it is joined by air, and whether nothing is in between. */
  airMetres?: number;
  sight?: 'clear' | 'walls';
  /** Bands of its radios. */
  bands?: readonly WifiBand[];
  from: string;
}

/** A switch, as far as the text has its figures. */
export interface SwitchFacts {
  place: string;
  ports: number;
  poePorts: number;
  poeWatts?: number;
  from: string;
}

/** A Wi-Fi network. */
export interface WifiFacts {
  readonly ssid: string;
  readonly guests: boolean;
  readonly hidden: boolean;
  /** Guests accept a page of terms. */
  readonly terms: boolean;
  readonly security?: 'wpa3' | 'both' | 'wpa2' | 'open';
  /** Its last day (ISO 8601). */
  readonly until?: string;
  readonly from: string;
}

/** A room in which Wi-Fi is promised. */
export interface RoomFacts {
  readonly name: string;
  readonly guests: boolean;
  readonly mbps: number;
  readonly from: string;
}

/** Somebody or something outside that wants to reach something inside. */
interface OutsideWish {
  /** What is to be reached, as the text says it. */
  readonly target: string;
  readonly purpose: Purpose | undefined;
  readonly protocol: 'tcp' | 'udp' | 'both';
  readonly ports: string;
  readonly insidePorts: string;
  readonly address: string;
  /** Addresses from which alone it is to answer. */
  readonly sources: readonly string[];
  /** Everybody on the internet is meant, in so many words. */
  readonly everybody: boolean;
  readonly from: string;
}

/** All that a text says of a site. */
export interface Facts {
  site: Partial<
    Record<'name' | 'customer' | 'street' | 'town' | 'postcode' | 'country' | 'timeZone', Said<string>>
  >;
  /** What is done there, in a word: bakery, campsite. */
  trade?: Said<string>;
  contacts: { name: string; role: string; phone: string; email: string; from: string }[];
  lines: LineFacts[];
  networks: NetworkFacts[];
  devices: DeviceFacts[];
  /** Boxes behind the router. */
  boxes: BoxFacts[];
  switches: SwitchFacts[];
  wifi: WifiFacts[];
  rooms: RoomFacts[];
  /** Who comes in from outside. */
  remote: { person: string; targets: Purpose[]; from: string }[];
  outside: OutsideWish[];
  /** What became of those wishes. */
  opened: (OutsideWish & { readonly way: 'vpn' | 'forward' | 'none' })[];
  /** Name or address by which remote users call the site. */
  endpoint?: Said<string>;
  /** Guests do not use the backup. */
  guestsWait?: Said<boolean>;
  /** Other sites that are to be connected. */
  branches?: Said<number>;
  /** Longest outage that is allowed when the first line fails. */
  withinSeconds?: Said<number>;
  oldRouter?: Said<string>;
}

/** A stretch of the text and what was understood of it. Offsets count characters of its line. */
export interface Mark {
  /** Line of the text, from 1. */
  readonly line: number;
  readonly start: number;
  readonly end: number;
  readonly says: string;
  /** A password, a key, a PIN: it belongs into the vault. */
  readonly secret?: boolean;
  /** It stands there and does not hold: not chosen, cancelled, corrected. */
  readonly void?: boolean;
}

/** A secret of the text: it goes into the vault, never into the plan. */
export interface FoundSecret {
  readonly value: string;
  /** What it opens. */
  readonly says: string;
  /** Key of the line that it belongs to, and what it is there; undefined where it belongs to none. */
  readonly lineKey?: string;
  readonly kind: 'password' | 'pin' | 'other';
}

export interface Brief {
  readonly facts: Facts;
  readonly marks: readonly Mark[];
  readonly secrets: readonly FoundSecret[];
  /** Lines from which nothing was taken, though something stands there; from 1. */
  readonly unused: readonly number[];
}

import type { MediumName, WanTypeName } from '../../plan/schema.ts';

/** What a letter is about to say of one line: facts, before any words. Invented; addresses are documentation ranges. */
export interface LineTruth {
  medium: Extract<MediumName, 'fibre' | 'dsl' | 'cable' | 'cellular'>;
  type: Extract<WanTypeName, 'pppoe' | 'dhcp' | 'static' | 'cellular' | 'ds-lite'>;
  userName?: string;
  password?: string;
  pin?: string;
  vlan?: number;
  downMbps?: number;
  upMbps?: number;
  address?: string;
  prefixLength?: number;
  gateway?: string;
  resolvers?: readonly string[];
  mtuBytes?: number;
  apn?: string;
  capGigabytes?: number;
  translator?: string;
}

export interface LetterTruth {
  readonly line: LineTruth;
  readonly backup: LineTruth | undefined;
}

/** Numbers between 0 and 1 in a fixed order, and what is drawn with them. */
export class Dice {
  readonly #next: () => number;
  constructor(next: () => number) {
    this.#next = next;
  }
  /** A whole number from `least` to `most`, both included. */
  whole(least: number, most: number): number {
    return least + Math.floor(this.#next() * (most - least + 1));
  }
  one<T>(from: readonly T[]): T {
    return from[this.whole(0, from.length - 1)]!;
  }
  chance(share: number): boolean {
    return this.#next() < share;
  }
  /** The same things in another order. */
  mixed<T>(from: readonly T[]): T[] {
    const left = [...from];
    return from.map(() => left.splice(this.whole(0, left.length - 1), 1)[0]!);
  }
}

const names = [
  'brandt',
  'lefort',
  'vidal',
  'rossetti',
  'jansen',
  'moreira',
  'ashdown',
  'kerr',
  'oduya',
  'lind',
];
const realms = ['nordlicht.example', 'quayline.example', 'fibra-sul.example', 'net.weststroom.example'];
const rates = [
  [16, 1], [50, 10], [100, 40], [249.6, 42], [250, 50], [500, 100], [600, 600], [940, 940], [1000, 500], [2000, 1000],
] as const; // prettier-ignore
const passwords = (dice: Dice): string =>
  `${dice.one(['Hafen', 'quay', 'Zk', 'mN', 'Tide', 'pX'])}${dice.one(['!', '#', '-', '_', '.', '%'])}${dice.whole(1000, 99_999)}${dice.one(['', 'q', 'Rw', 'x9'])}`;

/** One line with all that its type needs, and some of what it may have. */
function anyLine(dice: Dice, medium: LineTruth['medium'], block: string): LineTruth {
  const [downMbps, upMbps] = dice.one(rates);
  if (medium === 'cellular')
    return {
      medium,
      type: 'cellular',
      apn: dice.one(['internet.quayline.example', 'business.nordlicht', 'm2m.weststroom', 'data.example']),
      ...(dice.chance(0.5) && { pin: String(dice.whole(1000, 9999)) }),
      ...(dice.chance(0.6) && { capGigabytes: dice.one([5, 10, 50, 100, 250]) }),
      ...(dice.chance(0.4) && { downMbps: dice.one([50, 150, 300]), upMbps: dice.one([10, 25, 50]) }),
    };
  const type =
    medium === 'cable'
      ? dice.one(['dhcp', 'dhcp', 'static', 'ds-lite'] as const)
      : medium === 'dsl'
        ? 'pppoe'
        : dice.one(['pppoe', 'pppoe', 'dhcp', 'static', 'static'] as const);
  const host = dice.whole(2, 5);
  const fixed = type === 'static';
  return {
    medium,
    type,
    ...(dice.chance(0.85) && { downMbps, upMbps }),
    ...(type === 'pppoe' && {
      userName: dice.one([
        `${dice.one(names)}-${dice.whole(1000, 9999)}@${dice.one(realms)}`,
        `${dice.whole(100_000, 999_999)}/${dice.whole(10, 99)}@${dice.one(realms)}`,
        `${dice.one(names)}${dice.whole(10, 99)}`,
      ]),
      ...(dice.chance(0.7) && { password: passwords(dice) }),
    }),
    ...(medium !== 'cable' &&
      dice.chance(0.6) && { vlan: dice.one([7, 8, 10, 20, 35, 100, 132, 835, 911, 3961]) }),
    ...(fixed && {
      address: `${block}.${8 * 11 + host}`,
      prefixLength: 29,
      gateway: `${block}.${8 * 11 + dice.one([1, 6])}`,
      resolvers: dice.one([
        ['198.51.100.53', '198.51.100.54'],
        ['192.0.2.53', '192.0.2.153'],
      ]),
    }),
    ...(type === 'pppoe' && dice.chance(0.2) && { address: `${block}.${dice.whole(20, 200)}` }),
    ...(type === 'pppoe' && dice.chance(0.3) && { mtuBytes: dice.one([1492, 1480, 1500]) }),
    ...(type === 'ds-lite' && {
      translator: dice.one(['aftr.quayline.example', 'aftr01.nordlicht.example']),
    }),
  };
}

export function anyTruth(dice: Dice): LetterTruth {
  const line = anyLine(dice, dice.one(['fibre', 'fibre', 'dsl', 'cable'] as const), '203.0.113');
  return {
    line,
    backup: dice.chance(0.4) ? anyLine(dice, dice.chance(0.7) ? 'cellular' : 'dsl', '198.51.100') : undefined,
  };
}

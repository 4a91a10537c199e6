import { systemClocks, type Clocks } from '../clocks.ts';
import type { SealedSecret, TrashedSecret, VaultRow, VaultRows } from '../store/vault-rows.ts';
import { mostSecretBytes } from '../store/limits.ts';
import { alike } from './strength.ts';
import { calibratedCost, keyOf, leastCost, newKey, newSalt, seal, unseal, type Cost } from './seal.ts';

export type VaultState = 'none' | 'locked' | 'open';

/** Why the vault did not do what it was asked to. */
export class VaultRefusal extends Error {
  readonly code:
    | 'no-vault'
    | 'vault-there'
    | 'locked'
    | 'wrong-passphrase'
    | 'no-secret'
    | 'same-secret'
    | 'name-in-use'
    | 'busy'
    | 'wait'
    | 'too-large';
  /** Seconds to wait, with `wait`. */
  readonly waitSeconds: number;

  constructor(code: VaultRefusal['code'], says: string, waitSeconds = 0) {
    super(says);
    this.code = code;
    this.waitSeconds = waitSeconds;
  }
}

export interface VaultOptions {
  readonly clocks?: Clocks;
  /** Cost of the derivation; otherwise it is measured on this machine. */
  readonly cost?: Cost;
  readonly idleMinutes?: number;
}

/** How often an open vault looks whether the machine slept or a clock was set, and by how much clocks may differ. */
const lookEveryMs = 5_000;
const mostDriftMs = 20_000;

const keyName = 'the key of the vault';
const nameOf = (siteId: string, name: string): string => `${siteId}\u0000${name}`;
const minute = 60_000;
/** Wrong passphrases that are answered at once; each one more doubles the wait. */
const freeTries = 3;
const longestWaitSeconds = 900;

/** Seconds to wait after so many wrong passphrases in a row: 1, 2, 4 … up to a quarter of an hour. */
export const waitAfter = (failures: number): number =>
  failures < freeTries ? 0 : Math.min(2 ** (failures - freeTries), longestWaitSeconds);

/** Names of files in the vault begin with this; secrets cannot be called so. */
export const filePrefix = 'file: ';
const isFile = (name: string): boolean => name.startsWith(filePrefix);

/**
 * Secrets, sealed. The passphrase seals one random key, and that key seals every secret. Locked at start and after
 * `idleMinutes` without use; a lock is at once, and nothing that was begun before it opens the vault again.
 */
export class Vault {
  readonly #rows: VaultRows;
  readonly #clocks: Clocks;
  readonly #idleMs: number;
  #cost: Cost | undefined;
  #key: Uint8Array | undefined;
  /** When it was last used, by both clocks. */
  #usedAt = { wall: 0, monotonic: 0 };
  #timer: ReturnType<typeof setTimeout> | undefined;
  #looking: ReturnType<typeof setInterval> | undefined;
  /** Both clocks at the last look. */
  #lookedAt = { wall: 0, monotonic: 0 };
  /** Grows with every lock: what was begun before one must not open the vault after it. */
  #locks = 0;
  #deriving = false;
  /** When the last wrong passphrase was typed; the start of the program counts as one. */
  #triedAt: number;
  readonly #listeners = new Set<(state: VaultState) => void>();

  constructor(rows: VaultRows, { clocks = systemClocks, cost, idleMinutes = 10 }: VaultOptions = {}) {
    this.#rows = rows;
    this.#clocks = clocks;
    this.#cost = cost;
    this.#idleMs = idleMinutes * minute;
    this.#triedAt = clocks.monotonic();
  }

  /** Calls back whenever the vault is opened, locked, made or ended; answers how to stop. */
  follow(listener: (state: VaultState) => void): () => void {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  }

  async state(): Promise<VaultState> {
    if (this.#open()) return 'open';
    return (await this.#rows.read()) ? 'locked' : 'none';
  }

  make(passphrase: string): Promise<void> {
    return this.#alone(async (locks) => {
      if (await this.#rows.read()) throw vaultThere();
      const key = newKey();
      if (!(await this.#rows.make(await this.#sealedKey(key, passphrase)))) throw vaultThere();
      this.#use(key, locks);
    });
  }

  unlock(passphrase: string): Promise<void> {
    return this.#alone(async (locks) => {
      const { key, cost } = await this.#keyBy(passphrase);
      this.#use(key, locks);
      // Made when less was usual: carried over while the passphrase is at hand.
      if (cost.memoryKiB < Math.min(leastCost.memoryKiB, (await this.#costNow()).memoryKiB))
        await this.#rekey(key, passphrase, locks);
    });
  }

  /** Locks at once: the key is overwritten, and everybody who follows is told. */
  lock(): void {
    this.#locks += 1;
    clearTimeout(this.#timer);
    clearInterval(this.#looking);
    if (!this.#key) return;
    this.#key.fill(0);
    this.#key = undefined;
    this.#tell('locked');
  }

  /** Another passphrase, and another key: every secret is sealed anew, and what the old ones opened is erased. */
  change(before: string, after: string): Promise<void> {
    return this.#alone(async (locks) => {
      const { key } = await this.#keyBy(before);
      await this.#rekey(key, after, locks);
    });
  }

  /** Whether a passphrase is that of this vault; a wrong one counts as a guess. */
  verify(passphrase: string): Promise<void> {
    return this.#alone(async () => {
      (await this.#keyBy(passphrase)).key.fill(0);
    });
  }

  /** Ends the vault: what it held is gone, by intention of the vault. Whoever asks has made sure that it is meant. */
  async destroy(): Promise<void> {
    this.lock();
    await this.#rows.wipe();
    this.#tell('none');
  }

  async names(siteId: string): Promise<string[]> {
    this.#must();
    return this.#rows.names(siteId);
  }

  /** Keeps a secret; one that is in use on this site under another name, or differs from it in a letter, is refused. */
  async put(siteId: string, name: string, secret: string): Promise<void> {
    const key = this.#must();
    for (const other of await this.#rows.names(siteId)) {
      if (other === name || isFile(other)) continue;
      const likeness = alike(await this.reveal(siteId, other), secret);
      if (likeness)
        throw new VaultRefusal(
          'same-secret',
          `That is ${likeness === 'same' ? `the secret kept as "${other}" too` : `almost the secret kept as "${other}": a letter apart is the same to anyone who knows one`}. Anyone who knows one would have both: the administration of the router, above all, needs one of its own, not that of the Wi-Fi.`,
        );
    }
    this.#must();
    await this.#keep(key, siteId, name, secret);
  }

  /** Keeps a settings file, sealed like a secret; files are compared with nothing. */
  putFile(siteId: string, name: string, file: string): Promise<void> {
    return this.#keep(this.#must(), siteId, name, file);
  }

  async #keep(key: Uint8Array, siteId: string, name: string, text: string): Promise<void> {
    const plain = new TextEncoder().encode(text);
    if (plain.length > mostSecretBytes)
      throw new VaultRefusal(
        'too-large',
        `The vault holds up to ${mostSecretBytes} bytes under one name; this has ${plain.length}. Nothing was kept.`,
      );
    const sealed = seal(key, plain, nameOf(siteId, name));
    plain.fill(0);
    if (await this.#rows.put(siteId, name, sealed)) await this.#rows.erased();
  }

  async reveal(siteId: string, name: string): Promise<string> {
    this.#must();
    const sealed = await this.#rows.sealed(siteId, name);
    // It may have been locked while the database was asked.
    const key = this.#must();
    const plain = sealed === undefined ? undefined : unseal(key, sealed, nameOf(siteId, name));
    if (!plain) throw new VaultRefusal('no-secret', `The vault has nothing under the name "${name}".`);
    const text = new TextDecoder().decode(plain);
    plain.fill(0);
    return text;
  }

  /** Moves a secret to the trash, where it stays sealed until it is put back or erased. */
  async remove(siteId: string, name: string): Promise<void> {
    this.#must();
    if (!(await this.#rows.remove(siteId, name, this.#clocks.now())))
      throw new VaultRefusal('no-secret', `The vault has nothing under the name "${name}".`);
  }

  async trash(siteId: string): Promise<TrashedSecret[]> {
    this.#must();
    return this.#rows.trash(siteId);
  }

  async putBack(siteId: string, id: number): Promise<void> {
    this.#must();
    const back = await this.#rows.putBack(siteId, id);
    if (back === undefined) throw notInTrash();
    if (!back)
      throw new VaultRefusal(
        'name-in-use',
        'Another secret is kept under that name now. Remove that one first, or leave this one in the trash.',
      );
  }

  /** Erases a secret in the trash for good, from the files of the database too. */
  async erase(siteId: string, id: number): Promise<void> {
    this.#must();
    if (!(await this.#rows.erase(siteId, id))) throw notInTrash();
  }

  /**
   * Opens another vault with its passphrase; a wrong one counts as a guess, and a right one forgives none, for
   * anybody knows the passphrase of a vault of their own. What comes back seals a secret of that vault for this one,
   * which must be open.
   */
  adopt(
    foreign: VaultRow,
    passphrase: string,
  ): Promise<{
    readonly seal: (secret: SealedSecret) => string | undefined;
    readonly same: (secret: SealedSecret, other: string) => boolean;
  }> {
    this.#must();
    return this.#alone(async () => {
      const theirs = await this.#keyFrom(foreign, passphrase, 'foreign');
      return {
        seal: ({ siteId, name, sealed }) => {
          const bound = nameOf(siteId, name);
          const plain = unseal(theirs, sealed, bound);
          return plain && seal(this.#must(), plain, bound);
        },
        same: ({ siteId, name, sealed }, other) => {
          const bound = nameOf(siteId, name);
          const [one, two] = [unseal(this.#must(), sealed, bound), unseal(this.#must(), other, bound)];
          const alike = one !== undefined && two !== undefined && Buffer.compare(one, two) === 0;
          one?.fill(0);
          two?.fill(0);
          return alike;
        },
      };
    });
  }

  /** One derivation at a time: each takes memory, and many at once would be a way to guess faster. */
  async #alone<T>(act: (locks: number) => Promise<T>): Promise<T> {
    if (this.#deriving)
      throw new VaultRefusal('busy', 'Another passphrase is being tried just now. Try again in a moment.');
    this.#deriving = true;
    try {
      return await act(this.#locks);
    } finally {
      this.#deriving = false;
    }
  }

  async #costNow(): Promise<Cost> {
    return (this.#cost ??= await calibratedCost());
  }

  async #sealedKey(key: Uint8Array, passphrase: string): Promise<VaultRow> {
    const salt = newSalt();
    const cost = await this.#costNow();
    const wrapping = await keyOf(passphrase, salt, cost);
    const sealedKey = seal(wrapping, key, keyName);
    wrapping.fill(0);
    return { salt: Buffer.from(salt).toString('base64'), cost, sealedKey };
  }

  async #rekey(before: Uint8Array, passphrase: string, locks: number): Promise<void> {
    const after = newKey();
    const row = await this.#sealedKey(after, passphrase);
    const old = before.slice();
    // Locked while the passphrase was turned into a key: nothing was changed yet, and nothing is.
    if (locks !== this.#locks) throw lockedMeanwhile('Nothing was changed.');
    await this.#rows.rekey(row, ({ siteId, name, sealed }) => {
      const plain = unseal(old, sealed, nameOf(siteId, name));
      // What does not open stays as it is: it is damaged, and no worse for it.
      return plain ? seal(after, plain, nameOf(siteId, name)) : sealed;
    });
    old.fill(0);
    this.#use(after, locks, 'The change is done: open it with the new passphrase.');
  }

  async #keyBy(passphrase: string): Promise<{ key: Uint8Array; cost: Cost }> {
    const kept = await this.#rows.read();
    if (!kept) throw new VaultRefusal('no-vault', 'There is no vault yet. Choose a passphrase to make one.');
    return { key: await this.#keyFrom(kept, passphrase), cost: kept.cost };
  }

  async #keyFrom(kept: VaultRow, passphrase: string, whose: 'own' | 'foreign' = 'own'): Promise<Uint8Array> {
    const failures = await this.#rows.failures();
    const left = waitAfter(failures) * 1000 - (this.#clocks.monotonic() - this.#triedAt);
    if (left > 0) {
      const seconds = Math.ceil(left / 1000);
      throw new VaultRefusal(
        'wait',
        `${failures} wrong passphrases in a row: the next one can be tried in ${seconds} ${seconds === 1 ? 'second' : 'seconds'}. Nothing is lost by waiting.`,
        seconds,
      );
    }
    // Counted before it is tried: ending the program in between gains nothing.
    await this.#rows.setFailures(failures + 1);
    const wrapping = await keyOf(passphrase, new Uint8Array(Buffer.from(kept.salt, 'base64')), kept.cost);
    const key = unseal(wrapping, kept.sealedKey, keyName);
    wrapping.fill(0);
    this.#triedAt = this.#clocks.monotonic();
    if (!key)
      throw new VaultRefusal(
        'wrong-passphrase',
        'That is not the passphrase of this vault. Capital letters and the keyboard layout count; nothing was lost by the try.',
      );
    await this.#rows.setFailures(whose === 'own' ? 0 : failures);
    return key;
  }

  /** Opens with a key, unless it was locked since `locks`. */
  #use(key: Uint8Array, locks: number, says = ''): void {
    if (locks !== this.#locks) {
      key.fill(0);
      throw lockedMeanwhile(says);
    }
    if (this.#key && this.#key !== key) this.#key.fill(0);
    this.#key = key;
    this.#lookedAt = this.#times();
    clearInterval(this.#looking);
    this.#looking = setInterval(() => this.look(), lookEveryMs);
    this.#looking.unref();
    this.#touch();
    this.#tell('open');
  }

  #touch(): void {
    this.#usedAt = this.#times();
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => this.#open(), this.#idleMs + 50);
    this.#timer.unref();
  }

  #times(): { wall: number; monotonic: number } {
    return { wall: this.#clocks.now().getTime(), monotonic: this.#clocks.monotonic() };
  }

  /**
   * Locks where the machine slept, this program stood still, or a clock was set since the last look: whoever is
   * there now need not be the one who opened it. Asked every few seconds while the vault is open.
   */
  look(): void {
    const [before, now] = [this.#lookedAt, this.#times()];
    const [wall, monotonic] = [now.wall - before.wall, now.monotonic - before.monotonic];
    this.#lookedAt = now;
    if (Math.abs(wall - monotonic) > mostDriftMs || monotonic > lookEveryMs + mostDriftMs) this.lock();
  }

  /**
   * The key, unless it was not used for too long by either clock: the monotonic one stands still while a laptop
   * sleeps, and the wall clock can be set back.
   */
  #open(): Uint8Array | undefined {
    const idle = Math.max(
      this.#clocks.now().getTime() - this.#usedAt.wall,
      this.#clocks.monotonic() - this.#usedAt.monotonic,
    );
    if (this.#key && idle > this.#idleMs) this.lock();
    return this.#key;
  }

  #must(): Uint8Array {
    const key = this.#open();
    if (!key) throw new VaultRefusal('locked', 'The vault is locked. Type its passphrase to open it.');
    this.#touch();
    return key;
  }

  #tell(state: VaultState): void {
    for (const listener of this.#listeners) listener(state);
  }
}

const vaultThere = (): VaultRefusal =>
  new VaultRefusal('vault-there', 'There is a vault already. Open it with its passphrase.');
const lockedMeanwhile = (says: string): VaultRefusal =>
  new VaultRefusal('locked', `The vault was locked in between, and stays locked. ${says}`.trim());
const notInTrash = (): VaultRefusal =>
  new VaultRefusal('no-secret', 'That secret is not in the trash any more.');

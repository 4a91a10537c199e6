import type { VaultRows } from '../store/vault-rows.ts';
import { keyOf, newKey, newSalt, seal, unseal, usualCost, type Cost } from './seal.ts';

/** Why the vault did not do what it was asked to. */
export class VaultRefusal extends Error {
  readonly code: 'no-vault' | 'vault-there' | 'locked' | 'wrong-passphrase' | 'no-secret' | 'same-secret';

  constructor(code: VaultRefusal['code'], says: string) {
    super(says);
    this.code = code;
  }
}

const keyName = 'the key of the vault';
const nameOf = (siteId: string, name: string): string => `${siteId}\u0000${name}`;

/**
 * Secrets, sealed. The passphrase seals one random key, and that key seals every secret: changing the passphrase
 * seals the key anew and touches no secret. Locked at start and after `idleMinutes` without use.
 */
export class Vault {
  readonly #rows: VaultRows;
  readonly #clock: () => Date;
  readonly #cost: Cost;
  readonly #idleMinutes: number;
  #key: Uint8Array | undefined;
  #usedAt = 0;

  constructor(
    rows: VaultRows,
    clock: () => Date = () => new Date(),
    cost: Cost = usualCost,
    idleMinutes = 10,
  ) {
    this.#rows = rows;
    this.#clock = clock;
    this.#cost = cost;
    this.#idleMinutes = idleMinutes;
  }

  async state(): Promise<'none' | 'locked' | 'open'> {
    if (this.#open()) return 'open';
    return (await this.#rows.read()) ? 'locked' : 'none';
  }

  async make(passphrase: string): Promise<void> {
    if (await this.#rows.read())
      throw new VaultRefusal('vault-there', 'There is a vault already. Open it with its passphrase.');
    const key = newKey();
    await this.#sealKey(key, passphrase);
    this.#use(key);
  }

  async unlock(passphrase: string): Promise<void> {
    this.#use(await this.#keyBy(passphrase));
  }

  lock(): void {
    this.#key?.fill(0);
    this.#key = undefined;
  }

  async change(before: string, after: string): Promise<void> {
    const key = await this.#keyBy(before);
    await this.#sealKey(key, after);
    this.#use(key);
  }

  /** Ends a vault whose passphrase is forgotten: what it held is gone, by intention of the vault. */
  async destroy(): Promise<void> {
    this.lock();
    await this.#rows.wipe();
  }

  async names(siteId: string): Promise<string[]> {
    this.#must();
    return this.#rows.names(siteId);
  }

  /** Keeps a secret; one that is in use on this site under another name is refused. */
  async put(siteId: string, name: string, secret: string): Promise<void> {
    const key = this.#must();
    for (const other of await this.#rows.names(siteId))
      if (other !== name && (await this.reveal(siteId, other)) === secret)
        throw new VaultRefusal(
          'same-secret',
          `That is the secret kept as "${other}" too. Whoever knows one would have both: the administration of the router, above all, needs one of its own, not that of the Wi-Fi.`,
        );
    await this.#rows.put(siteId, name, seal(key, new TextEncoder().encode(secret), nameOf(siteId, name)));
  }

  async reveal(siteId: string, name: string): Promise<string> {
    const key = this.#must();
    const sealed = await this.#rows.sealed(siteId, name);
    const plain = sealed === undefined ? undefined : unseal(key, sealed, nameOf(siteId, name));
    if (!plain) throw new VaultRefusal('no-secret', `The vault has nothing under the name "${name}".`);
    return new TextDecoder().decode(plain);
  }

  async remove(siteId: string, name: string): Promise<void> {
    this.#must();
    await this.#rows.remove(siteId, name);
  }

  async #sealKey(key: Uint8Array, passphrase: string): Promise<void> {
    const salt = newSalt();
    const wrapping = await keyOf(passphrase, salt, this.#cost);
    await this.#rows.write({
      salt: Buffer.from(salt).toString('base64'),
      cost: this.#cost,
      sealedKey: seal(wrapping, key, keyName),
    });
  }

  async #keyBy(passphrase: string): Promise<Uint8Array> {
    const kept = await this.#rows.read();
    if (!kept) throw new VaultRefusal('no-vault', 'There is no vault yet. Choose a passphrase to make one.');
    const wrapping = await keyOf(passphrase, new Uint8Array(Buffer.from(kept.salt, 'base64')), kept.cost);
    const key = unseal(wrapping, kept.sealedKey, keyName);
    if (!key)
      throw new VaultRefusal(
        'wrong-passphrase',
        'That is not the passphrase of this vault. Capital letters and the keyboard layout count; nothing was lost by the try.',
      );
    return key;
  }

  #use(key: Uint8Array): void {
    this.#key = key;
    this.#usedAt = this.#clock().getTime();
  }

  /** The key, unless it was not used for too long. */
  #open(): Uint8Array | undefined {
    if (this.#key && this.#clock().getTime() - this.#usedAt > this.#idleMinutes * 60_000) this.lock();
    return this.#key;
  }

  #must(): Uint8Array {
    const key = this.#open();
    if (!key) throw new VaultRefusal('locked', 'The vault is locked. Type its passphrase to open it.');
    this.#usedAt = this.#clock().getTime();
    return key;
  }
}

import { openDB, type IDBPDatabase } from 'idb';

/*
 * What is typed and not saved yet, kept in the browser's own database. `localStorage` is written out only some
 * seconds later, so that a browser that is killed takes the last words along; here each change is on the disk before
 * the next one is begun (Indexed Database API 3.0, section 2.7.1: strict durability). Read at once from memory.
 */

type Texts = Pick<Storage, 'getItem' | 'setItem' | 'removeItem' | 'key' | 'length'>;

const databaseName = 'netter';
const texts = 'texts';
const keys = 'keys';
const prefix = 'netter-';

const values = new Map<string, string>();
const waiting = new Set<string>();
let database: IDBPDatabase | undefined;
let writing: Promise<void> | undefined;
let channel: BroadcastChannel | undefined;

function put(key: string, value: string | undefined): void {
  if (value === undefined) values.delete(key);
  else values.set(key, value);
  channel?.postMessage([key, value]);
  waiting.add(key);
  writing ??= write().finally(() => (writing = undefined));
}

/** Writes what waits, until nothing does. What changed meanwhile goes with the next turn. */
async function write(): Promise<void> {
  // Whatever the change is drawn by comes first.
  await new Promise((resolve) => setTimeout(resolve));
  while (database && waiting.size > 0) {
    const now = [...waiting];
    waiting.clear();
    const transaction = database.transaction(texts, 'readwrite', { durability: 'strict' });
    for (const key of now) {
      const value = values.get(key);
      void (value === undefined ? transaction.store.delete(key) : transaction.store.put(value, key));
    }
    try {
      await transaction.done;
    } catch {
      // No room in the browser's storage: typing and saving go on all the same.
    }
  }
}

/** Texts by name, as `Storage` has them. */
export const kept: Texts = {
  getItem: (key) => values.get(key) ?? null,
  setItem: (key, value) => put(key, value),
  removeItem: (key) => void (values.has(key) && put(key, undefined)),
  key: (index) => [...values.keys()][index] ?? null,
  get length() {
    return values.size;
  },
};

/** Reads what was kept, before anything is drawn. A browser that has no database keeps it as long as the page lives. */
export async function openKept(): Promise<void> {
  try {
    database = await openDB(databaseName, 1, {
      upgrade: (made) => {
        made.createObjectStore(texts);
        made.createObjectStore(keys);
      },
    });
    const transaction = database.transaction(texts);
    const [names, all] = await Promise.all([transaction.store.getAllKeys(), transaction.store.getAll()]);
    names.forEach((name, index) => values.set(String(name), String(all[index])));
    channel = new BroadcastChannel('netter-kept');
    channel.addEventListener('message', ({ data }: MessageEvent<[string, string | undefined]>) => {
      const [key, value] = data;
      if (value === undefined) values.delete(key);
      else values.set(key, value);
    });
    takeOver();
  } catch {
    database = undefined;
  }
}

/** What an earlier Netter kept in `localStorage`. */
function takeOver(): void {
  const earlier = ['netter-draft', 'netter-waiting', 'netter-found', 'netter-initials'];
  for (const key of Object.keys(localStorage)) {
    if (!key.startsWith(prefix) || !earlier.some((each) => key.startsWith(each))) continue;
    if (!values.has(key)) put(key, localStorage.getItem(key) ?? '');
    localStorage.removeItem(key);
  }
}

/** A key that cannot leave this browser (Web Cryptography API: not extractable), by name. */
export const keptKey = async (name: string): Promise<CryptoKeyPair | undefined> =>
  (await database?.get(keys, name)) as CryptoKeyPair | undefined;
export const keepKey = async (name: string, pair: CryptoKeyPair): Promise<void> =>
  void (await database?.put(keys, pair, name));

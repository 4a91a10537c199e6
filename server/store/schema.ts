import {
  bigint,
  boolean,
  index,
  integer,
  json,
  pgTable,
  primaryKey,
  serial,
  text,
  timestamp,
} from 'drizzle-orm/pg-core';
import type { Desk, Plan, UplinkPlan } from '../../core/index.ts';

const when = (name: string) => timestamp(name, { withTimezone: true, mode: 'date' }).notNull();

/** One row a site: what the list shows, so that the list never opens a plan. */
export const sites = pgTable(
  'sites',
  {
    id: text('id').primaryKey(),
    name: text('name').notNull(),
    customer: text('customer').notNull(),
    town: text('town').notNull(),
    demo: boolean('demo').notNull(),
    revision: integer('revision').notNull(),
    savedAt: when('saved_at'),
    /** Grows with every save of any site: the order of saves, whatever the clock said. */
    touched: bigint('touched', { mode: 'number' }).notNull(),
    /** Counts of the newest revision; null until they are counted. */
    blockers: integer('blockers'),
    warnings: integer('warnings'),
    /** Every word by which the site may be looked for, in lower case; empty where it was not gathered yet. */
    words: text('words').notNull().default(''),
    /** What is due; null until it is counted. */
    desk: json('desk').$type<Desk>(),
    /** The first day on which something ends (ISO 8601). */
    due: text('due'),
    awaiting: integer('awaiting'),
    unproven: integer('unproven'),
    /** In the trash since; null while it is in use. */
    deletedAt: timestamp('deleted_at', { withTimezone: true, mode: 'date' }),
    /** Days of use that had been counted when it was put there; null while it is in use. */
    deletedOnDay: integer('deleted_on_day'),
  },
  (table) => [index('sites_touched').on(table.touched.desc())],
);

/** Every autosave; old ones are thinned. `json` and not `jsonb`: the order of the fields is kept. */
export const revisions = pgTable(
  'revisions',
  {
    siteId: text('site_id')
      .notNull()
      .references(() => sites.id, { onDelete: 'cascade' }),
    number: integer('number').notNull(),
    savedAt: when('saved_at'),
    plan: json('plan').$type<Plan>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.siteId, table.number] })],
);

/** What was done and seen on site. Only ever added to. */
export const records = pgTable(
  'records',
  {
    id: serial('id').primaryKey(),
    siteId: text('site_id')
      .notNull()
      .references(() => sites.id, { onDelete: 'cascade' }),
    at: when('at'),
    kind: text('kind').$type<'tick' | 'untick' | 'timer' | 'evidence' | 'waive'>().notNull(),
    subject: text('subject').notNull(),
    initials: text('initials').notNull(),
    reading: text('reading').notNull(),
    values: json('values').$type<Readonly<Record<string, string>>>(),
    parts: json('parts').$type<Readonly<Record<string, string>>>(),
    rung: text('rung'),
    seenFrom: text('seen_from').notNull(),
    revision: integer('revision').notNull(),
  },
  (table) => [index('records_site').on(table.siteId, table.id)],
);

/** Revisions that a print or a file names: they are never thinned. */
export const keptRevisions = pgTable(
  'kept_revisions',
  {
    siteId: text('site_id')
      .notNull()
      .references(() => sites.id, { onDelete: 'cascade' }),
    number: integer('number').notNull(),
    why: text('why').$type<'print' | 'file'>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.siteId, table.number, table.why] })],
);

/** Browsers that were let in. Of a token only its SHA-256 is kept. */
export const signIns = pgTable('sign_ins', {
  id: text('id').primaryKey(),
  tokenHash: text('token_hash').notNull().unique(),
  label: text('label').notNull(),
  /** Account of this machine that signed in, where the system tells. */
  account: integer('account'),
  /** Thumbprint of the key that signs its requests (RFC 7638); null for one of before requests were signed. */
  key: text('key'),
  startedAt: when('started_at'),
  usedAt: when('used_at'),
});

/** Facts about the data folder itself, such as whether the demo sites were put in. */
export const facts = pgTable('facts', { name: text('name').primaryKey(), value: text('value').notNull() });

/** One row at most: the sealed key of the vault, and what turns the passphrase into the key that opens it. */
export const vault = pgTable('vault', {
  id: integer('id').primaryKey(),
  salt: text('salt').notNull(),
  cost: json('cost').$type<{ memoryKiB: number; passes: number; lanes: number }>().notNull(),
  sealedKey: text('sealed_key').notNull(),
});

/** Sealed secrets by site and name. They are in no revision, and go with their site. */
export const vaultSecrets = pgTable(
  'vault_secrets',
  {
    siteId: text('site_id')
      .notNull()
      .references(() => sites.id, { onDelete: 'cascade' }),
    name: text('name').notNull(),
    sealed: text('sealed').notNull(),
  },
  (table) => [primaryKey({ columns: [table.siteId, table.name] })],
);

/** Secrets that were removed, still sealed, until a person erases them. */
export const vaultTrash = pgTable('vault_trash', {
  id: serial('id').primaryKey(),
  siteId: text('site_id')
    .notNull()
    .references(() => sites.id, { onDelete: 'cascade' }),
  name: text('name').notNull(),
  sealed: text('sealed').notNull(),
  deletedAt: when('deleted_at'),
  /** Days of use that had been counted when it was removed. */
  deletedOnDay: integer('deleted_on_day').notNull().default(0),
});

/** Uplinks kept for the next site: how such a line is entered, not who it is for. */
export const templates = pgTable('templates', {
  name: text('name').primaryKey(),
  uplink: json('uplink').$type<UplinkPlan>().notNull(),
});

/*
 * How large what is kept can be: asked by whoever takes something in, and by whoever reads it back from a backup.
 * One place, so that whatever is accepted can be backed up and restored.
 */
import * as z from 'zod';

/** Identifier of a site. */
export const siteId = z.string().regex(/^[A-Za-z0-9-]{1,60}$/, 'a site id has letters, digits and "-"');

/** A revision is kept as a 32-bit number; the bound leaves room for the numbers that a merge adds. */
export const mostRevision = 2 ** 30;
export const revisionNumber = z.number().int().min(1).max(mostRevision);

/** Name under which a secret is kept. */
export const mostNameText = 64;

/** A settings file of 2 MB as base64 (RFC 4648 section 4), in characters. */
export const mostFileText = 2_800_000;
/** The file with its name, box, version and hash, or any secret, in bytes before it is sealed. */
export const mostSecretBytes = mostFileText + 8_192;
/** Nonce and tag of the seal (XChaCha20-Poly1305), in bytes. */
const sealBytes = 24 + 16;
/** A sealed secret as base64, in characters. */
export const mostSealedText = 4 * Math.ceil((mostSecretBytes + sealBytes) / 3);

/** Cards of models that are kept, and templates. */
export const mostCards = 1_000;
export const mostTemplates = 200;
export const mostModelText = 200;
export const mostTemplateText = 100;

import { createHash } from 'node:crypto';
import { existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname } from 'node:path';
import { Script } from 'node:vm';

/** Of a script and of what was compiled of it. */
const digestOf = (source, compiled) => createHash('sha256').update(source).update(compiled).digest();
const digestBytes = 32;

/**
 * Runs a script of CommonJS and returns its exports. What Node compiled of it is taken from the file beside it, where
 * that is whole and of this very text: Node itself looks at no more of a script than its length, and ends on what is
 * damaged. What another Node compiled is left aside by Node.
 */
export function runCompiled(file) {
  const kept = `${file}.compiled`;
  const source = readFileSync(file, 'utf8');
  const found = existsSync(kept) ? readFileSync(kept) : Buffer.alloc(0);
  const cachedData = found.subarray(digestBytes);
  const isGood = found.subarray(0, digestBytes).equals(digestOf(source, cachedData));
  const script = new Script(`(function (exports, require, module, __filename, __dirname) {${source}\n})`, {
    filename: file,
    ...(isGood && { cachedData }),
  });
  const module = { exports: {} };
  script.runInThisContext()(module.exports, createRequire(file), module, file, dirname(file));
  return {
    exports: module.exports,
    /** Keeps what was compiled by now, for the next call. */
    keep() {
      const draft = `${kept}.${process.pid}`;
      const compiled = script.createCachedData();
      writeFileSync(draft, Buffer.concat([digestOf(source, compiled), compiled]));
      renameSync(draft, kept);
    },
  };
}

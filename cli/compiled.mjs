import { existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname } from 'node:path';
import { Script } from 'node:vm';

/**
 * Runs a script of CommonJS and returns its exports. What Node compiled of it is taken from the file beside it, where
 * that is of the same Node and the same script; compiling takes as long as all the rest of a short command.
 */
export function runCompiled(file) {
  const kept = `${file}.compiled`;
  const script = new Script(
    `(function (exports, require, module, __filename, __dirname) {${readFileSync(file, 'utf8')}\n})`,
    { filename: file, ...(existsSync(kept) && { cachedData: readFileSync(kept) }) },
  );
  const module = { exports: {} };
  script.runInThisContext()(module.exports, createRequire(file), module, file, dirname(file));
  return {
    exports: module.exports,
    /** Keeps what was compiled by now, for the next call. */
    keep() {
      const draft = `${kept}.${process.pid}`;
      writeFileSync(draft, script.createCachedData());
      renameSync(draft, kept);
    },
  };
}

import swc from '@swc/jest';

/**
 * Names of the language that modules use all the time. Inside the runner's context every look at a global goes through
 * an interceptor and takes some hundred times as long; a constant of the module does not.
 */
const names = [
  'Array',
  'BigInt',
  'Infinity',
  'JSON',
  'Map',
  'Math',
  'Number',
  'Object',
  'RegExp',
  'Set',
  'String',
  'Symbol',
  'Uint8Array',
  'WeakMap',
];

const uses = new RegExp(`(?<![.\\w$])(?:${names.join('|')})\\b(?!\\s*:)`, 'g');

/** Those that a module uses and does not bind itself, as constants in front of its first line. */
function withLocals(code) {
  const used = [...new Set(code.match(uses) ?? [])].filter(
    (name) =>
      !new RegExp(
        `(?:\\b(?:const|let|var|class|function|as|import)\\s+|\\bimport\\s*\\{[^}]*[{,]?\\s)${name}\\b`,
      ).test(code),
  );
  return used.length === 0 ? code : `const { ${used.join(', ')} } = globalThis;${code}`;
}

const quickened = (result) => ({ ...result, code: withLocals(result.code) });

export default {
  createTransformer(options) {
    const inner = swc.createTransformer(options);
    const isLibrary = (path) => path.includes('node_modules');
    const transform = (code, path, ...rest) =>
      isLibrary(path) ? { code: withLocals(code) } : quickened(inner.process(code, path, ...rest));
    return {
      ...inner,
      process: transform,
      processAsync: async (code, path, ...rest) =>
        isLibrary(path)
          ? { code: withLocals(code) }
          : quickened(await inner.processAsync(code, path, ...rest)),
      getCacheKey: (...given) => `${inner.getCacheKey(...given)}locals2`,
    };
  },
};

/** What a test imports from the test runner is what the runner made global; styles draw nothing here. */
export function resolve(specifier, context, next) {
  if (specifier === '@jest/globals')
    return { url: new URL('./jest-globals.mjs', import.meta.url).href, shortCircuit: true };
  if (specifier.endsWith('.css'))
    return { url: new URL('./no-styles.mjs', import.meta.url).href, shortCircuit: true };
  return next(specifier, context);
}

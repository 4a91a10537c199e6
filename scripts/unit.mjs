import { jest, runNode, unitTests } from './steps.mjs';

/*
 * Unit tests, or with --e2e the journeys in a browser: all of them, or those whose path holds one of the words given.
 *   npm run unit -- core/base/net                 one folder, or one suite
 *   npm run unit -- core/base/net -t "RFC 5952"   one test
 *   npm run unit -- core/base/net --watch         again on every change
 */
const journeys = process.argv.includes('--e2e');
const args = process.argv.slice(2).filter((each) => each !== '--e2e');
const withValue = new Set(['-t', '--testNamePattern', '--maxWorkers', '--seed', '--reporters']);
const paths = args.filter((each, index) => !each.startsWith('-') && !withValue.has(args[index - 1]));
const options = args.filter((each) => !paths.includes(each));
process.exitCode = runNode([
  ...jest,
  ...(journeys ? ['--selectProjects=e2e'] : unitTests),
  '--maxWorkers=2',
  ...(paths.length > 0 ? [`--testPathPatterns=${paths.join('|')}`] : []),
  ...options,
]);

import { dirname, join, relative, sep } from 'node:path';
import { fileURLToPath } from 'node:url';

/*
 * The plan of the house: which place may import which. An import goes down or stays in its room. "How the code is
 * laid out" in README.md shows the same floors, and scripts/house.test.ts compares the two.
 */

const root = dirname(dirname(fileURLToPath(import.meta.url)));

/** Rooms, bottom up; those of one row stand beside each other and import nothing of each other. `*` is any folder. */
export const floors = {
  core: [
    ['base/result.ts', 'base/once.ts'],
    ['base/days.ts', 'base/text.ts'],
    ['base/encode'],
    ['base/net'],
    ['base/worked'],
    ['plan/field.ts'],
    ['wan-types/profile.ts', 'wan-types/names.ts', 'wan-types/shared-fields.ts'],
    ['wan-types/dialled.ts'],
    ['wan-types/*/profile.ts'],
    ['wan-types/profiles.ts'],
    ['plan'],
    ['site'],
    ['behaviour/domain-types'],
    ['behaviour/media'],
    ['behaviour/wiring'],
    ['behaviour/wifi'],
    ['behaviour/downstream-router'],
    ['behaviour/provider-sim/bytes.ts'],
    ['behaviour/provider-sim/stand-in.ts'],
    ['wan-types'],
    ['behaviour/provider-sim'],
    ['behaviour/failover'],
    ['behaviour/remote-access'],
    ['behaviour/router'],
    ['intake/readings'],
    ['intake/discovery', 'intake/letter'],
    ['answers/path'],
    ['answers/exposure'],
    ['answers/run-sheet'],
    ['answers/acceptance'],
    ['answers/visit-scripts'],
    ['answers/checks'],
    ['answers/workings', 'answers/sums'],
    ['editing/take-over', 'editing/line-template'],
    ['editing/brief'],
    ['output/record'],
    ['output/formats'],
    ['output/site-summary', 'output/picture'],
    ['index.ts'],
  ],
  web: [
    ['workers'],
    ['state'],
    ['parts'],
    ['picture'],
    ['sheets/*'],
    ['sheets/cabinet'],
    ['sheets/index.ts'],
    ['workings', 'brief'],
    ['app'],
  ],
};

/** What other houses may use of one; the rest of it is its own. */
const faces = { core: 'index.ts' };
/** Houses that know nothing of each other. */
const apart = {
  core: ['server', 'web', 'cli', 'demo', 'bench'],
  server: ['web', 'cli'],
  web: ['server', 'cli', 'demo'],
  cli: ['server', 'web'],
};

const pattern = (room) =>
  new RegExp(`^${room.replace('.', '\\.').replace('*', '[^/]+')}${room.endsWith('.ts') ? '$' : '/'}`);
const rooms = Object.fromEntries(
  Object.entries(floors).map(([house, rows]) => [
    house,
    rows
      .flatMap((row, floor) => row.map((room) => ({ room, floor, holds: pattern(room) })))
      // The longest name says it best.
      .sort((one, other) => other.room.length - one.room.length),
  ]),
);

/** The room in which a file of a house stands, with its floor; undefined where the plan names none. */
export function roomOf(house, file) {
  const found = rooms[house]?.find(({ holds }) => holds.test(file));
  return found && { name: found.holds.exec(file)[0], floor: found.floor };
}

/** Why one file may not import another, or undefined; both from the root of the repository, with `/`. */
export function refusal(from, to) {
  const [house, ...inside] = from.split('/');
  const [other, ...there] = to.split('/');
  if (apart[house]?.includes(other)) return `${house} may not import ${other}`;
  if (house !== other) {
    const face = faces[other];
    return face !== undefined && there.join('/') !== face && apart[house] !== undefined
      ? `import ${other}/${face} only`
      : undefined;
  }
  if (floors[house] === undefined) return undefined;
  const [mine, its] = [roomOf(house, inside.join('/')), roomOf(house, there.join('/'))];
  if (mine === undefined || its === undefined)
    return `scripts/house.mjs names no floor for ${mine === undefined ? from : to}`;
  if (mine.name === its.name || its.floor < mine.floor) return undefined;
  return its.floor === mine.floor
    ? `${its.name} stands beside ${mine.name}: what both need belongs below them`
    : `${its.name} stands above ${mine.name}`;
}

/** The rule for ESLint. */
export const houseRule = {
  meta: { type: 'problem', schema: [] },
  create(context) {
    const from = relative(root, context.filename).split(sep).join('/');
    const look = (node) => {
      const source = node.source?.value;
      if (typeof source !== 'string' || !source.startsWith('.')) return;
      const why = refusal(from, join(dirname(from), source).split(sep).join('/'));
      if (why) context.report({ node, message: `${why}: see "How the code is laid out" in README.md.` });
    };
    return {
      ImportDeclaration: look,
      ExportNamedDeclaration: look,
      ExportAllDeclaration: look,
      ImportExpression: look,
    };
  },
};

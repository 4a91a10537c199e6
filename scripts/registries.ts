import { existsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { wanTypeNames } from '../core/wan-types/names.ts';

const root = fileURLToPath(new URL('..', import.meta.url));

/*
 * A thing of which there are several kinds is one folder each, with one file for each floor of the house. The registry
 * of a floor is written from the list of names, so that a new kind is a folder and a word in that list.
 */

const remark = (names: string) => `// Written from ${names} by \`npm run reference\`.\n`;
const camel = (name: string): string => name.replace(/-(.)/g, (_, letter: string) => letter.toUpperCase());
const key = (name: string): string => (/^[a-z][a-z0-9]*$/.test(name) ? name : `'${name}'`);

/** The members of a list that have a file of this name, imported and keyed. */
function members(
  folder: string,
  names: readonly string[],
  file: string,
  member: string,
): { imports: string; entries: string } {
  const found = names.filter((name) => existsSync(join(root, folder, name, file)));
  const local = (name: string): string =>
    camel(`${name}-${member.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)}`);
  return {
    imports: [...found]
      .sort()
      .map((name) => `import { ${member} as ${local(name)} } from './${name}/${file}';\n`)
      .join(''),
    entries: found.map((name) => `  ${key(name)}: ${local(name)},\n`).join(''),
  };
}

/** The registries of the WAN types. */
export function registries(): { path: string; text: string }[] {
  const folder = 'core/wan-types';
  const of = (file: string, member: string) => members(folder, wanTypeNames, file, member);
  const profiles = of('profile.ts', 'profile');
  const laws = of('index.ts', 'wanType');
  const standIns = of('stand-in.ts', 'standIn');
  return [
    {
      path: `${folder}/profiles.ts`,
      text: `${remark('names.ts')}${profiles.imports}
export const profiles = {
${profiles.entries}} as const;
`,
    },
    {
      path: `${folder}/index.ts`,
      text: `${remark('names.ts')}${laws.imports}import type { WanTypeName } from './names.ts';
import type { WanType } from './type.ts';

const registry: { [Name in WanTypeName]: WanType<Name> } = {
${laws.entries}};

export const wanTypes = Object.values(registry) as readonly WanType[];
export const wanType = (name: WanTypeName): WanType => registry[name] as WanType;
/** As texts are read: what stands later in the list is the more special, and is tried first. */
export const specialFirst = wanTypes.toReversed();
`,
    },
    {
      path: `${folder}/stand-ins.ts`,
      text: `${remark('names.ts')}import type { StandIn } from '../behaviour/provider-sim/stand-in.ts';
${standIns.imports}import type { WanTypeName } from './names.ts';

/** The simulated far ends, by WAN type. A line nobody knows has none. */
export const standIns: { readonly [Name in WanTypeName]?: StandIn } = {
${standIns.entries}};
`,
    },
  ];
}

if (process.argv[1] === fileURLToPath(import.meta.url))
  for (const { path, text } of registries()) writeFileSync(join(root, path), text);

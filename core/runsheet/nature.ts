import type { Site } from '../site/model.ts';
import type { Nature, StepDraft } from '../terms/step.ts';
import { radarWaitWorked } from '../worked/wifi.ts';

type Given = Partial<Nature>;
type Rule = Given | ((site: Site, id: string) => Given);

const everybody = (site: Site): string[] => site.networks.map(({ id }) => id);
/** Everything that a line is measured by, while it alone carries the traffic. */
const onLine: Rule = (_site, id) => ({
  place: 'router',
  group: `line:${id}`,
  route: id,
  uses: [`line:${id}`],
});
const atSecond = (_site: Site, id: string): Given => ({
  place: `second:${id}`,
  uses: [`second:${id}`],
  group: `second:${id}`,
});
const pulling: Rule = (site, id) => ({
  place: 'cupboard',
  uses: all(site),
  interrupts: everybody(site),
  route: id,
});
const atDesk: Given = { place: 'desk' };
const atCupboard: Given = { place: 'cupboard' };
const onPage: Given = { place: 'router', uses: ['router'] };

/** The router and every line: what a test needs that is about the whole way. */
const all = (site: Site): string[] => ['router', ...site.lines.map(({ id }) => `line:${id}`)];
const fromOutside: Rule = (site) => ({ place: 'outside', uses: all(site) });

/** What kind of work a step is, by the first part of its id. Shares of waiting are common practice, no source. */
const rules: Readonly<Record<string, Rule>> = {
  activation: { ...atDesk, waitShare: 0.8 },
  values: { ...atDesk, waitShare: 0.8 },
  'old-read': { place: 'old router' },
  'old-warn': { place: 'people' },
  'old-off': (site) => ({ ...atCupboard, interrupts: everybody(site) }),
  'old-keep': atCupboard,
  kit: atCupboard,
  power: atCupboard,
  labels: atCupboard,
  laptop: { place: 'router' },
  reset: { place: 'router' },
  firmware: { ...onPage, waitShare: 0.8, busy: ['router'] },
  'backup-before': onPage,
  restore: { ...onPage, waitShare: 0.8, busy: ['router'] },
  light: (_site, id) => ({ ...atCupboard, uses: [`line:${id}`] }),
  sync: (_site, id) => ({ ...atCupboard, waitShare: 0.7, busy: [`line:${id}`], uses: [`line:${id}`] }),
  modem: (_site, id) => ({ ...atCupboard, waitShare: 0.8, busy: [`line:${id}`], uses: [`line:${id}`] }),
  align: { place: 'antenna' },
  survey: { place: 'antenna' },
  card: atCupboard,
  forget: (_site, id) => ({ ...atCupboard, waitShare: 0.8, busy: [`line:${id}`], uses: [`line:${id}`] }),
  'old-session': (_site, id) => ({
    ...atCupboard,
    waitShare: 0.9,
    busy: [`line:${id}`],
    uses: [`line:${id}`],
  }),
  box: (_site, id) => ({ place: `box:${id}`, uses: [`line:${id}`] }),
  'box-forward': { place: 'router', uses: ['router'] },
  uplink: (_site, id) => ({
    ...onPage,
    waitShare: 0.5,
    busy: [`line:${id}`],
    uses: ['router', `line:${id}`],
    group: `line:${id}`,
  }),
  standing: onLine,
  page: onLine,
  size: onLine,
  rate: onLine,
  lines: (site) => ({ ...atCupboard, uses: site.lines.map(({ id }) => `line:${id}`) }),
  save: onPage,
  internet: (site, id) => ({ place: `network:${id}`, uses: all(site) }),
  apart: (_site, id) => ({ place: `network:${id}`, uses: ['router'] }),
  outside: fromOutside,
  'outside-refused': fromOutside,
  'vpn-test': fromOutside,
  'vpn-out': fromOutside,
  'vpn-site-proof': (site) => ({ place: 'cupboard', uses: all(site) }),
  'warn-people': { place: 'people' },
  pull: pulling,
  'second-network': pulling,
  'brown-out': pulling,
  'vpn-site-pull': pulling,
  // Nobody has to watch while the line is held back.
  'plug-in': (site, id) => ({
    ...atCupboard,
    waitShare: 0.8,
    uses: site.lines.map((line) => `line:${line.id}`),
    busy: site.lines.map((line) => `line:${line.id}`),
    route: id,
  }),
  'power-cut': (site) => ({
    ...atCupboard,
    interrupts: everybody(site),
    uses: all(site),
  }),
  cables: atCupboard,
  transit: (site, id) => ({ place: 'far end', uses: [`line:${id}`], interrupts: everybody(site) }),
  'router-moves': (site) => ({ place: 'far end', uses: all(site), interrupts: everybody(site) }),
  switch: (site, id) => {
    const second = site.second.find(({ box }) => box?.id === id);
    return second ? atSecond(site, second.id) : { place: `switch:${id}` };
  },
  links: (_site, id) => ({ place: `switch:${id}` }),
  ports: (_site, id) => ({ place: `switch:${id}`, uses: ['router'] }),
  radio: (site, id) => {
    const radio = site.wifi.radios.find((each) => each.id === id);
    const listens =
      radio?.band === '5' && radio.channel !== null && radarWaitWorked(radio.channel, radio.width).value;
    const second = site.second.find(({ box }) => box !== undefined && box === radio?.box);
    const own = second
      ? atSecond(site, second.id)
      : radio?.box === site.router.kit
        ? onPage
        : { place: `access point:${radio?.box?.id ?? ''}` };
    return { ...own, waitShare: listens ? 0.8 : 0 };
  },
  'wifi-scan': { place: 'rooms' },
  room: (site) => ({ place: 'rooms', uses: all(site) }),
  'second-alone': atSecond,
  'second-address': atSecond,
  'second-forwards': atSecond,
  'second-join': atSecond,
  'second-cable': atSecond,
  'second-proof': (site, id) => ({ place: `second:${id}`, uses: all(site) }),
  secrets: { place: 'people' },
  handover: { place: 'people' },
};

/** What kind of work a step is: where it is done, how much of it is waiting, what it uses and whom it interrupts. */
export function natureOf(site: Site, step: StepDraft): Nature {
  const [kind = '', id = ''] = step.id.split(':');
  const rule = Object.hasOwn(rules, kind) ? rules[kind]! : onPage;
  const given = typeof rule === 'function' ? rule(site, id) : rule;
  return { place: '', waitShare: 0, busy: [], uses: [], group: '', interrupts: [], route: '', ...given };
}

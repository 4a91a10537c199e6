import { labelAt, pointersOf, searchFields, termAt, type Finding, type Plan } from '../../core/index.ts';
import { sheets } from '../sheets/index.ts';

/** One thing that Ask can go to or do. */
export interface Found {
  readonly id: string;
  readonly group:
    'Recent' | 'A packet' | 'On this site' | 'Findings' | 'Fields' | 'Sheets and commands' | 'Sites';
  readonly title: string;
  readonly detail: string;
  readonly run: () => void;
}

export interface Ways {
  readonly ask: (question: string) => void;
  readonly goTo: (at: string) => void;
  readonly open: (path: string) => void;
}

/** What can be done from anywhere, by the words for it. */
export interface Command {
  readonly title: string;
  readonly words: string;
  readonly key: string;
  readonly run: () => void;
}

const most = { fields: 6, rows: 6, findings: 5, names: 4 } as const;

const holds = (text: string, wanted: readonly string[]): boolean => {
  const low = text.toLowerCase();
  return wanted.every((word) => low.includes(word));
};

/** Names of the plan: where each stands, and what it is. */
function rowsOf(plan: Plan): { at: string; title: string; detail: string; words: string }[] {
  return [
    ...plan.devices.map(({ name, address, mac, services }, index) => ({
      at: `/devices/${index}/name`,
      title: name,
      detail: ['device', address].filter((each) => each !== '').join(', '),
      words: [name, address, mac, ...services.map((service) => `${service.name} ${service.ports}`)].join(' '),
    })),
    ...plan.networks.map(({ name, prefix, vlan }, index) => ({
      at: `/networks/${index}/name`,
      title: name,
      detail: `network, ${prefix}`,
      words: `${name} ${prefix} vlan ${vlan ?? ''}`,
    })),
    ...plan.uplinks.map(({ name, type }, index) => ({
      at: `/uplinks/${index}/name`,
      title: name,
      detail: 'uplink',
      words: `${name} ${type} uplink line`,
    })),
    ...plan.vpn.peers.map(({ person, name, address }, index) => ({
      at: `/vpn/peers/${index}/person`,
      title: `${person}, ${name}`,
      detail: `remote access, ${address}`,
      words: `${person} ${name} ${address}`,
    })),
    ...plan.forwards.map(({ purpose, outsidePorts }, index) => ({
      at: `/forwards/${index}/purpose`,
      title: purpose,
      detail: 'port forward',
      words: `${purpose} ${outsidePorts} forward`,
    })),
    ...plan.contacts.map(({ name, role, phone }, index) => ({
      at: `/contacts/${index}/name`,
      title: name,
      detail: [role, phone].filter((each) => each !== '').join(', '),
      words: `${name} ${role} ${phone}`,
    })),
    ...plan.kit.map(({ model, serial, role }, index) => ({
      at: `/kit/${index}/model`,
      title: model || role,
      detail: serial === '' ? 'equipment' : `equipment, serial ${serial}`,
      words: `${model} ${serial} ${role}`,
    })),
    ...plan.wifi.networks.map(({ ssid }, index) => ({
      at: `/wifi/networks/${index}/ssid`,
      title: ssid,
      detail: 'Wi-Fi network',
      words: `${ssid} wi-fi wlan`,
    })),
    ...plan.wifi.rooms.map(({ name }, index) => ({
      at: `/wifi/rooms/${index}/name`,
      title: name,
      detail: 'room, Wi-Fi',
      words: `${name} room wi-fi`,
    })),
    ...plan.wiring.runs.map(({ label, fromPort, toPort }, index) => ({
      at: `/wiring/runs/${index}/label`,
      title: label || `run ${index + 1}`,
      detail: 'cable',
      words: `${label} ${fromPort} ${toPort} cable run`,
    })),
    ...plan.second.map(({ box, place, address }, index) => {
      const model = plan.kit.find(({ id }) => id === box)?.model ?? '';
      return {
        at: `/second/${index}/way`,
        title: model || place || 'Second router',
        detail: 'second router or access point',
        words: `${model} ${place} ${address} second router access point`,
      };
    }),
  ];
}

/** What was typed as a question about one packet: whole, or on the way to one. */
function questions(typed: string, names: readonly string[]): string[] {
  const open = /^(.*\b(?:from|to|when)\s+)(\S*)$/i.exec(typed);
  const offers = open
    ? names.filter((name) => name.startsWith(open[2]!.toLowerCase())).map((name) => `${open[1]}${name}`)
    : [];
  const whole = / to \S/i.test(typed) ? [typed.trim()] : [];
  return [...new Set([...whole, ...offers])].slice(0, most.names + 1);
}

/** Everything that fits what was typed, the nearest of each kind first. */
export function findEverything(
  typed: string,
  sources: {
    readonly plan: Plan;
    readonly findings: readonly Finding[];
    readonly names: readonly string[];
    readonly recent: readonly string[];
    readonly commands: readonly Command[];
    readonly sites: readonly { readonly id: string; readonly name: string; readonly customer: string }[];
  },
  { ask, goTo, open }: Ways,
): Found[] {
  const { plan, findings, names, recent, commands, sites } = sources;
  const wanted = typed
    .toLowerCase()
    .split(/\s+/)
    .filter((word) => word !== '');
  const asPacket = (question: string, group: Found['group']): Found => ({
    id: `${group} ${question}`,
    group,
    title: question,
    detail: '',
    run: () => ask(question),
  });
  if (wanted.length === 0)
    return [
      ...recent.map((question) => asPacket(question, 'Recent')),
      ...commands.slice(0, 4).map(commandFound),
    ];
  const startsWith = (title: string): number => (title.toLowerCase().startsWith(wanted[0]!) ? 0 : 1);
  return [
    ...questions(typed, names).map((question) => asPacket(question, 'A packet')),
    ...rowsOf(plan)
      .filter(({ words }) => holds(words, wanted))
      .sort((a, b) => startsWith(a.title) - startsWith(b.title))
      .slice(0, most.rows)
      .map(({ at, title, detail }): Found => ({
        id: at,
        group: 'On this site',
        title,
        detail,
        run: () => goTo(at),
      })),
    ...findings
      .filter(({ says, rule }) => holds(`${says} ${rule}`, wanted))
      .slice(0, most.findings)
      .map(({ rule, at, says, severity }): Found => ({
        id: `finding ${rule} ${at}`,
        group: 'Findings',
        title: says,
        detail: severity,
        run: () => goTo(at),
      })),
    ...searchFields(typed)
      .slice(0, most.fields)
      .flatMap(({ at, field }): Found[] => {
        const [place] = pointersOf(plan, at);
        return place === undefined
          ? []
          : [
              {
                id: `field ${at}`,
                group: 'Fields',
                title: field.term,
                detail:
                  labelAt(plan, place)
                    .replace(`${termAt(place)}`, '')
                    .trim() || field.says,
                run: () => goTo(place),
              },
            ];
      }),
    ...sheets
      .filter(({ title }) => holds(title, wanted))
      .map(({ key, title }): Found => ({
        id: `sheet ${key}`,
        group: 'Sheets and commands',
        title,
        detail: 'sheet',
        run: () => open(key),
      })),
    ...commands.filter(({ title, words }) => holds(`${title} ${words}`, wanted)).map(commandFound),
    ...sites.map(({ id, name, customer }): Found => ({
      id: `site ${id}`,
      group: 'Sites',
      title: name,
      detail: customer,
      run: () => open(`/sites/${id}/picture`),
    })),
  ];
}

const commandFound = ({ title, key, run }: Command): Found => ({
  id: `command ${title}`,
  group: 'Sheets and commands',
  title,
  detail: key,
  run,
});

import { formatPrefix } from '../../base/net/prefix.ts';
import { titleAt } from '../../plan/places.ts';
import type { Site } from '../../site/model.ts';
import { socketName } from '../../site/wiring.ts';
import { portLabel } from '../../answers/run-sheet/prepare.ts';
import { capitalized } from '../../base/text.ts';

/** A label for a plug, a port or a cable: what it is, and what hangs on it. */
export interface Label {
  readonly title: string;
  readonly text: string;
}

/** Labels of the lines, the ports, the cables and the networks: each is cut out twice, for both ends. */
export function labelStrip(site: Site): Label[] {
  return [
    ...site.lines.map((line) => ({
      title: line.label.trim() || line.name,
      text: [titleAt('/uplinks/*/medium', line.medium), line.vlan === null ? '' : `VLAN ${line.vlan}`]
        .filter((part) => part !== '')
        .join(', '),
    })),
    ...site.router.ports.map((port) => ({
      title: portLabel(port.name),
      text: port.line?.label.trim() || port.line?.name || port.network?.name || 'not used',
    })),
    ...site.wiring.runs.map((run) => ({
      title: run.name,
      text: run.ends.map(socketName).join(' to '),
    })),
    ...site.networks.map((network) => ({
      title: network.name,
      text: [
        network.vlan === null ? 'untagged' : `VLAN ${network.vlan}`,
        network.prefix ? formatPrefix(network.prefix) : '',
      ]
        .filter((part) => part !== '')
        .join(', '),
    })),
  ];
}

/** A card for the people who live or work with it: no secret is on it. */
export interface HouseCard {
  readonly title: string;
  readonly parts: readonly {
    readonly heading: string;
    readonly rows: readonly (readonly [label: string, value: string])[];
  }[];
}

/** Whom to call, what not to reset, and what to read aloud on the telephone. */
export function houseCard(site: Site): HouseCard {
  const { kit } = site.router;
  const people = site.contacts.map(
    ({ name, role, phone }) =>
      [role || name, [name, phone].filter((part) => part !== '').join(', ')] as const,
  );
  const boxes = site.lines.flatMap((line) =>
    line.box
      ? [
          [
            capitalized(line.box.name),
            `belongs to ${line.name}: never reset it, its settings are the provider's`,
          ] as const,
        ]
      : [],
  );
  const [first, second] = site.lines;
  return {
    title: `The network of ${site.about.name || 'this house'}`,
    parts: [
      {
        heading: 'Networks',
        rows: site.networks.map(
          ({ name, purpose }) => [name, titleAt('/networks/*/purpose', purpose)] as const,
        ),
      },
      ...(site.wifi.networks.length === 0
        ? []
        : [
            {
              heading: 'Wi-Fi',
              rows: site.wifi.networks.map(
                ({ ssid, network, until }) =>
                  [
                    ssid || 'no name yet',
                    `for ${network?.name ?? 'no network yet'}${until.trim() === '' ? '' : `, until ${until.trim()}`}`,
                  ] as const,
              ),
            },
          ]),
      {
        heading: 'Whom to call',
        rows: people.length > 0 ? people : [['Installer', '______________________________']],
      },
      {
        heading: 'If the internet fails',
        rows: [
          [
            'First',
            second
              ? `wait five minutes: ${second.name} takes over when ${first!.name} fails`
              : 'look at the lights, and note what they show',
          ],
          [
            'Then',
            'switch off what is in front of the router, then the router; ten seconds; on again in the same order; five minutes',
          ],
          ['Never', 'press a small button with a pin: it wipes the settings'],
          ...boxes,
        ],
      },
      {
        heading: 'Details for the call',
        rows: [
          [
            'Site',
            [site.about.name, site.about.street, site.about.town].filter((part) => part !== '').join(', '),
          ],
          ...site.lines.map((line) => [`Plug of ${line.name}`, line.label.trim() || 'no label yet'] as const),
          ...(kit
            ? [['Router', [kit.model, kit.serial].filter((part) => part !== '').join(', serial ')] as const]
            : []),
          ...site.kit
            .filter((item) => item !== kit && item.serial !== '')
            .map(
              (item) => [item.model || titleAt('/kit/*/role', item.role), `serial ${item.serial}`] as const,
            ),
          ['Lights', 'which are on, which blink, which are red'],
        ],
      },
    ],
  };
}

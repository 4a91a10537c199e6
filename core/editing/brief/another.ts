import { emptyPlan } from '../../plan/defaults.ts';
import { kitSchema, planSchema, uplinkSchema, type Plan } from '../../plan/schema.ts';
import { asTemplate } from '../line-template/template.ts';

/**
 * A plan made like an earlier one, for another customer: what its networks are for, its rules, its failover, how its
 * lines are entered. Whatever belongs to the earlier customer stays behind: people, addresses of lines, user names,
 * secrets, serial numbers, MAC addresses, keys, readings, cables, notes, and forwards, whose sources and owners were
 * theirs.
 */
export function forAnotherCustomer(plan: Plan, name: string, newId: () => string): Plan {
  const empty = emptyPlan(name, newId);
  const boxes = new Map(plan.kit.map(({ id }) => [id, newId()]));
  const boxOf = (id: string): string => boxes.get(id) ?? '';
  return planSchema.parse({
    ...empty,
    site: { ...empty.site, name, country: plan.site.country, timeZone: plan.site.timeZone },
    // What the label of a model says is the model's; serial, MAC address and notes are the box's.
    kit: plan.kit.map(({ id, serial: _serial, mac: _mac, adminAddress: _admin, notes: _notes, ...model }) =>
      kitSchema.parse({ ...model, id: boxOf(id), firmware: '' }),
    ),
    router: plan.router,
    uplinks: plan.uplinks.map((uplink) => {
      const { watch, standby, weight } = uplink;
      return uplinkSchema.parse({ ...asTemplate(uplink), id: uplink.id, watch, standby, weight });
    }),
    networks: plan.networks,
    devices: plan.devices.map((device) => ({
      ...device,
      mac: '',
      notes: '',
      // A reservation needs a MAC address, which only the other customer's device has: the address stays wished for.
      addressing: device.addressing === 'reserved' ? ('fixed' as const) : device.addressing,
    })),
    reach: plan.reach,
    // Which networks there are by air, and on which boxes; names, keys, channels and readings are the house's.
    wifi: {
      networks: plan.wifi.networks.map((each) => ({ ...each, ssid: '', secret: '', until: '' })),
      radios: plan.wifi.radios.map((each) => ({ ...each, box: boxOf(each.box), channel: null })),
    },
    second: plan.second.map(({ id, box, network, way, dhcp, port, factoryAddress }) => ({
      id,
      box: boxOf(box),
      network,
      way,
      dhcp,
      port,
      factoryAddress,
    })),
    failover: {
      ...plan.failover,
      dynamicName: '',
      notification: '',
      loads: plan.failover.loads,
    },
    vpn: {
      ...empty.vpn,
      way: plan.vpn.way,
      protocols: plan.vpn.protocols,
      encryptionMbps: plan.vpn.encryptionMbps,
      pool: plan.vpn.pool,
      port: plan.vpn.port,
      keepAliveSeconds: plan.vpn.keepAliveSeconds,
      groups: plan.vpn.groups,
    },
  });
}

import { emptyPlan } from '../plan/defaults.ts';
import { kitSchema, planSchema, uplinkSchema, type Plan } from '../plan/schema.ts';
import { asTemplate } from '../uplinks/template.ts';

/**
 * A plan made like an earlier one, for another customer: what its networks are for, its rules, its failover, how its
 * lines are entered. Whatever belongs to the earlier customer stays behind: people, addresses of lines, user names,
 * secrets, serial numbers, MAC addresses, keys, readings, notes, and forwards, whose sources and owners were theirs.
 */
export function forAnotherCustomer(plan: Plan, name: string, newId: () => string): Plan {
  const empty = emptyPlan(name, newId);
  return planSchema.parse({
    ...empty,
    site: { ...empty.site, name, country: plan.site.country, timeZone: plan.site.timeZone },
    kit: plan.kit.map(({ role, model, powerVolts, powerAmps, card }) =>
      kitSchema.parse({ id: newId(), role, model, powerVolts, powerAmps, card }),
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

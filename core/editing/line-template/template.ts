import { uplinkSchema, type UplinkPlan } from '../../plan/schema.ts';

/** Settings that belong to one site and one contract: they do not go into a template. */
const personal = new Set([
  'address',
  'gateway',
  'expectedAddress',
  'routedBlock',
  'userName',
  'secret',
  'pinSecret',
  'pinTriesLeft',
  'cardNumber',
  'tiedMac',
]);

/**
 * What an uplink has in common with the next one of the same provider: how it is entered, not who it is for. No
 * address, user, card or secret's name goes along, no answer, reading or measured rate.
 */
export function asTemplate(uplink: UplinkPlan): UplinkPlan {
  const settings = Object.fromEntries(
    Object.entries(uplink.settings).map(([type, values]) => [
      type,
      Object.fromEntries(Object.entries(values).filter(([key]) => !personal.has(key))),
    ]),
  );
  const { medium, papers, vlan, vlanPriority, type, handoff, sourceNat, mtuBytes, rateDownMbps, rateUpMbps } =
    uplink;
  return uplinkSchema.parse({
    id: 'template',
    name: uplink.name,
    medium,
    papers,
    vlan,
    vlanPriority,
    type,
    settings,
    handoff: { ...handoff, outsideAddress: '', forwards: [] },
    sourceNat,
    mtuBytes,
    rateDownMbps,
    rateUpMbps,
    media: { cellular: { bands: uplink.media.cellular.bands }, fibre: { system: uplink.media.fibre.system } },
  });
}

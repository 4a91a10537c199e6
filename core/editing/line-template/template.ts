import { wanTypeNames } from '../../wan-types/names.ts';
import { withoutOwn } from '../../wan-types/facts.ts';
import { uplinkSchema, type UplinkPlan } from '../../plan/schema.ts';

/**
 * What an uplink has in common with the next one of the same provider: how it is entered, not who it is for. No
 * address, user, card or secret's name goes along, no answer, reading or measured rate.
 */
export function asTemplate(uplink: UplinkPlan): UplinkPlan {
  const settings = Object.fromEntries(
    wanTypeNames.map((type) => [type, withoutOwn(type, uplink.settings[type])]),
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

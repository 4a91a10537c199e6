import * as z from 'zod';
import { failoverSettings } from './catalogue/failover.ts';
import {
  deviceSchema,
  exceptionSchema,
  forwardSchema,
  networkSchema,
  reachSchema,
  routeSchema,
} from './catalogue/inside.ts';
import { originSchema } from './catalogue/origin.ts';
import { secondSchema } from './catalogue/second.ts';
import { contactSchema, kitSchema, routerSchema, siteSchema, visitSchema } from './catalogue/site.ts';
import { uplinkSchema } from './catalogue/uplink.ts';
import { vpnSettings } from './catalogue/vpn.ts';
import { wifiSchema } from './catalogue/wifi.ts';
import { wiringSchema } from './catalogue/wiring.ts';
import { cosmetic, onSheet, rows, yesNo, type ValueOf } from './field.ts';
import { planVersion } from './version.ts';

/*
 * The document. Addresses, subnets, ports and figures are kept as typed, so that a half-typed or impossible value is
 * saved like any other; `compile` reads them and reports what it cannot read. Structure, sizes and choices are
 * checked here.
 */
export const planSchema = z.strictObject({
  format: z.literal('netter-plan'),
  version: z.literal(planVersion),
  demo: cosmetic(
    onSheet(
      'site',
      yesNo('Invented site', 'Documentation addresses are in order on an invented site.', false),
    ),
  ),
  site: onSheet('site', siteSchema),
  contacts: onSheet(
    'site',
    rows('People', 'Who opens the door, and who decides.', contactSchema, 50, 'person'),
  ),
  kit: onSheet(
    'site',
    rows('Equipment', 'Routers, modems, switches, access points: what is installed.', kitSchema, 200, 'box'),
  ),
  router: onSheet('site', routerSchema),
  visit: onSheet('site', visitSchema),
  uplinks: onSheet(
    'uplinks',
    rows('Uplinks', 'Lines, in the order in which they are used.', uplinkSchema, 8),
  ),
  networks: onSheet('addresses', rows('Networks', 'The inside networks.', networkSchema, 200)),
  devices: onSheet('addresses', rows('Devices', 'Devices whose address matters.', deviceSchema, 5000)),
  forwards: onSheet(
    'rules',
    rows('Port forwards', 'Ports that are forwarded to devices inside.', forwardSchema, 2000),
  ),
  reach: onSheet(
    'rules',
    rows(
      'Rules between networks and outward',
      'What one network may reach of another, and what it may not reach outside. The first row that fits decides.',
      reachSchema,
      2000,
      'rule',
    ),
  ),
  exceptions: onSheet(
    'rules',
    rows(
      'Accepted exceptions',
      'What may be reached although the purpose of a network does not expect it: by whom accepted, why, and until when.',
      exceptionSchema,
      200,
    ),
  ),
  routes: onSheet(
    'rules',
    rows('Static routes', 'Prefixes that another router inside has.', routeSchema, 200),
  ),
  failover: onSheet('failover', failoverSettings.prefault({})),
  vpn: onSheet('remote-access', vpnSettings.prefault({})),
  wiring: onSheet('wiring', wiringSchema),
  wifi: onSheet('wifi', wifiSchema),
  second: onSheet(
    'second',
    rows(
      'Second routers and access points',
      'Boxes behind the router that could route themselves, and how each is connected.',
      secondSchema,
      16,
      'second router',
    ),
  ),
  origins: onSheet(
    'site',
    rows(
      'Not confirmed yet',
      'Values that a brief set, and where each came from, until a person confirms or changes them.',
      originSchema,
      3000,
    ),
  ),
});

export { mediumNames, surveyReading, type CableName, type MediumName } from './catalogue/media.ts';
export { wanTypeNames, type WanTypeName } from '../wan-types/names.ts';
export { boxForwardSchema, rateRunSchema } from './catalogue/uplink.ts';
export { lightSchema, portSchema, routerServiceSchema, serviceSchema, wordSchema } from './catalogue/site.ts';
export {
  backupLoadSchema,
  failoverPromiseSchema,
  failoverRuleSchema,
  fixedServiceSchema,
  sharedCauseSchema,
  watchTargetSchema,
} from './catalogue/failover.ts';
export {
  certificateSchema,
  farSiteSchema,
  translationSchema,
  vpnEndpointSchema,
  vpnGrantSchema,
  vpnGroupSchema,
  vpnPeerSchema,
  vpnRunSchema,
  wayTitles,
} from './catalogue/vpn.ts';
export { secondForwardSchema, secondSchema, secondWayTitles } from './catalogue/second.ts';
export { heardSchema, radioSchema, roomSchema, wifiNetworkSchema } from './catalogue/wifi.ts';
export { categoryTitles, runSchema, switchPortSchema, transitSchema } from './catalogue/wiring.ts';
export {
  contactSchema,
  deviceSchema,
  exceptionSchema,
  forwardSchema,
  kitSchema,
  networkSchema,
  reachSchema,
  routeSchema,
  uplinkSchema,
};

export type Plan = z.output<typeof planSchema>;
export type UplinkPlan = Plan['uplinks'][number];
export type RadioPlan = Plan['wifi']['radios'][number];
export type WifiNetworkPlan = Plan['wifi']['networks'][number];
export type RoomPlan = Plan['wifi']['rooms'][number];
export type SecondPlan = Plan['second'][number];
export type SecondForwardPlan = SecondPlan['forwards'][number];
export type HeardPlan = Plan['wifi']['heard'][number];
export type RunPlan = Plan['wiring']['runs'][number];
export type SwitchPortPlan = KitItem['ports'][number];
export type NetworkPlan = Plan['networks'][number];
export type DevicePlan = Plan['devices'][number];
export type ForwardPlan = Plan['forwards'][number];
export type KitItem = Plan['kit'][number];
export type RateRunPlan = UplinkPlan['runs'][number];
export type ServicePlan = DevicePlan['services'][number];
export type PeerPlan = Plan['vpn']['peers'][number];
export type GroupPlan = Plan['vpn']['groups'][number];
export type FarSitePlan = Plan['vpn']['sites'][number];
export type TranslationPlan = FarSitePlan['translations'][number];
export type CertificatePlan = Plan['vpn']['certificates'][number];

/** The plan with every field read: what is empty or cannot be read stands as its usual value, or as nothing. */
export type PlanValues = ValueOf<typeof planSchema>;
export type UplinkValues = PlanValues['uplinks'][number];
export type WanTypeSettings = UplinkValues['settings'];
export type MediaSettings = UplinkValues['media'];
export type FailoverValues = PlanValues['failover'];
export type VpnValues = PlanValues['vpn'];
export type SurveyReading = Plan['uplinks'][number]['media']['cellular']['readings'][number];
export type TrafficKind = FailoverValues['promises'][number]['kind'];
export type WayName = VpnValues['way'];

/** JSON Schema (draft 2020-12) of the plan file, as it may be written: fields with a default may be left out. */
export const planJsonSchema = (): unknown => z.toJSONSchema(planSchema, { io: 'input' });

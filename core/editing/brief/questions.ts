import { devices, guests, backupUse, keepAddresses, name } from './ask-inside.ts';
import { box, boxSubnet, firstLine, medium, secondLine, type } from './ask-lines.ts';
import { endpoint, outside, probes, remote, within } from './ask-outside.ts';
import { address, apn, gateway, resolvers, userName, vlan } from './ask-paper.ts';
import type { Kind } from './question.ts';

/*
 * A question is asked only where the facts do not have its answer, and only where the answer changes the plan.
 */

/** In the order in which they are asked. */
export const questionKinds: readonly Kind[] = [
  name,
  firstLine,
  secondLine,
  medium,
  box,
  boxSubnet,
  type,
  userName,
  vlan,
  address,
  gateway,
  resolvers,
  apn,
  devices,
  guests,
  within,
  probes,
  backupUse,
  outside,
  remote,
  endpoint,
  keepAddresses,
];

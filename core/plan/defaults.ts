import { planSchema, type Plan } from './schema.ts';
import { planVersion } from './version.ts';

/** A plan with nothing in it yet but what every router has: its administration page and its DNS server. */
export function emptyPlan(name: string, identifier: () => string): Plan {
  return planSchema.parse({
    format: 'netter-plan',
    version: planVersion,
    site: { name },
    kit: [{ id: identifier(), role: 'router' }],
    router: {
      services: [
        { id: identifier(), name: 'Administration page', protocol: 'tcp', ports: '443' },
        { id: identifier(), name: 'DNS server', protocol: 'both', ports: '53' },
      ],
    },
  });
}

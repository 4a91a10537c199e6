import type { WayName } from '../../../plan/schema.ts';
import { dated } from './dated.ts';
import { forward } from './forward.ts';
import { hub } from './hub.ts';
import { ikev2 } from './ikev2.ts';
import { mesh } from './mesh.ts';
import { tls } from './tls.ts';
import type { Method, MethodName } from './type.ts';
import { wireguard } from './wireguard.ts';

/** The registry of methods of remote access. A new one is a file beside these, one line here, and its title and ports in the catalogue. */
const registry: { readonly [Name in MethodName]: Method } = {
  wireguard,
  ikev2,
  tls,
  mesh,
  hub,
  forward,
  dated,
};

export const methods: readonly Method[] = Object.values(registry);

/** The method that a plan names; undefined where there is no remote access. */
export const methodOf = (way: WayName): Method | undefined => (way === 'none' ? undefined : registry[way]);

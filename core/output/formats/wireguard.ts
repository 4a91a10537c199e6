import { profileText } from '../../behaviour/remote-access/interface.ts';
import type { PeerFormat } from './type.ts';

export const wireguardProfile: PeerFormat = {
  says: 'The WireGuard profile of one client',
  mediaType: 'text/plain',
  fileName: ({ name }) => `${name}.conf`,
  write: profileText,
};

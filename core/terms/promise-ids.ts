/** Names of the promises, by which steps say what they are evidence for. */
interface Named {
  readonly id: string;
}
export const linePromiseId = (line: Named): string => `line:${line.id}`;
export const internetPromiseId = (network: Named): string => `internet:${network.id}`;
export const forwardPromiseId = (forward: Named): string => `forward:${forward.id}`;
export const failoverPromiseId = (promise: Named): string => `failover:${promise.id}`;
export const sitePromiseId = (far: Named): string => `site:${far.id}`;
export const refusedPromiseId = (peer: Named): string => `refused:${peer.id}`;
export const peerPromiseId = (peer: Named): string => `peer:${peer.id}`;

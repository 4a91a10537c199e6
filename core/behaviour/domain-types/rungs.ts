/** The ladder of evidence, weak to strong. No rung stands in for another: a promise names those that it needs. */
export const rungs = [
  { id: 'light', title: 'a light', outside: false },
  { id: 'wizard', title: 'wizard result', outside: false },
  { id: 'address', title: 'an address', outside: false },
  { id: 'next-hop', title: 'the next hop answers', outside: false },
  { id: 'ping-number', title: 'ping by address', outside: false },
  { id: 'ping-name', title: 'a name pinged', outside: false },
  { id: 'page', title: 'a page opened', outside: false },
  { id: 'outside-address', title: 'the outside address compared', outside: false },
  { id: 'apart', title: 'blocked access tested', outside: false },
  { id: 'rate', title: 'a rate measured', outside: false },
  { id: 'outside-port', title: 'a port seen from outside', outside: true },
  { id: 'outside-refused', title: 'refused from a source that is not allowed', outside: true },
  { id: 'outside-session', title: 'session from an external network', outside: true },
  { id: 'line-pulled', title: 'a line pulled', outside: false },
  { id: 'fail-back', title: 'a fail-back timed', outside: false },
  { id: 'power-cut', title: 'a power cut survived', outside: false },
] as const;

export type RungId = (typeof rungs)[number]['id'];
export const rungIds = rungs.map((rung) => rung.id) as [RungId, ...RungId[]];

const strength = new Map<string, number>(rungs.map((rung, index) => [rung.id, index]));

/** Place on the ladder, from 0. */
export const strengthOf = (id: RungId): number => strength.get(id) ?? -1;
export const rungOf = (id: RungId): (typeof rungs)[number] => rungs[strengthOf(id)]!;

import { expect, test } from '@jest/globals';
import { applyPatch } from '../../plan/patch.ts';
import { compile } from '../../site/compile.ts';
import { demoPlan, good } from '../../testing/plans.ts';
import { beginRotation, newPeer, noteHandshakes, renewAccess, revokePerson } from './changes.ts';

const today = '2026-11-26';
const plan = demoPlan('farrow-sound');
const { peers } = plan.vpn;

test('a rotation keeps the key in use for two weeks, whatever month or year that ends in', () => {
  const [peer] = good(applyPatch(plan, beginRotation(peers[0]!, 0, '2027-12-20'))).vpn.peers;
  expect([peer!.oldKey, peer!.oldKeyUntil]).toEqual([peers[0]!.publicKey, '2028-01-03']);
});

test('a renewal goes on from the end that is still to come, or from today', () => {
  const until = (expires: string): unknown =>
    renewAccess({ ...peers[0]!, expires }, 0, today).map((each) => 'value' in each && each.value)[0];
  // 2027 and 2028 have 365 and 366 days: a year is 365 of them.
  expect([until('2027-03-01'), until('2020-01-01'), until('')]).toEqual([
    '2028-02-29',
    '2027-11-26',
    '2027-11-26',
  ]);
});

test('who leaves loses every client in one change, and nobody else does', () => {
  const { person } = peers.find((each) => each.revoked === '')!;
  const patch = revokePerson(peers, person, today);
  const after = good(applyPatch(plan, patch)).vpn.peers;
  for (const [index, each] of after.entries()) {
    const before = peers[index]!;
    expect(each.revoked).toBe(before.revoked === '' && before.person === person ? today : before.revoked);
  }
  expect(patch.length).toBe(peers.filter((each) => each.person === person && each.revoked === '').length);
});

test('handshakes are noted where they were seen', () => {
  const seen = [{ index: 1, day: today }];
  expect(good(applyPatch(plan, noteHandshakes(seen))).vpn.peers[1]!.lastSeen).toBe(today);
});

test('a new client gets an address that nobody has', () => {
  const site = compile(plan);
  const peer = newPeer(site, 'new', today);
  expect(peers.map(({ address }) => address)).not.toContain(peer.address);
  expect(compile({ ...plan, vpn: { ...plan.vpn, peers: [...peers, peer] } }).problems).toEqual([]);
  expect([peer.created, peer.group]).toEqual([today, plan.vpn.groups[0]!.id]);
});

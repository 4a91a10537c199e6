import { expect, test } from '@jest/globals';
import { ApiError } from './api.ts';
import { WaitingRecords, type WaitingRecord } from './waiting-records.ts';

const storage = () => {
  const kept = new Map<string, string>();
  return {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
    removeItem: (key: string) => void kept.delete(key),
  };
};
const record = (subject: string): WaitingRecord => ({
  kind: 'tick',
  subject,
  initials: 'AB',
  reading: '',
  seenFrom: '',
  revision: 1,
  at: '2026-03-02T09:00:00.000Z',
});
const subjects = (waiting: WaitingRecords): string[] => waiting.all().map(({ subject }) => subject);

test('what could not be kept waits over a reload, and goes in once and in its order', async () => {
  const kept = storage();
  new WaitingRecords('quay', kept).add(record('kit'));
  const waiting = new WaitingRecords('quay', kept);
  waiting.add(record('power'));
  const sent: string[] = [];
  const gone = async (): Promise<void> => Promise.reject(new TypeError('no network'));
  expect([await waiting.send(gone), subjects(waiting)]).toEqual([0, ['kit', 'power']]);
  expect(await waiting.send(async ({ subject }) => void sent.push(subject))).toBe(2);
  expect([sent, subjects(waiting)]).toEqual([['kit', 'power'], []]);
  expect(subjects(new WaitingRecords('another', kept))).toEqual([]);
});

test('one that is refused does not hold up the others', async () => {
  const waiting = new WaitingRecords('quay', storage());
  waiting.add(record('bad'));
  waiting.add(record('good'));
  const refuse = async ({ subject }: WaitingRecord): Promise<void> => {
    if (subject === 'bad') throw new ApiError(400, { error: 'wrong', says: 'no' } as never);
  };
  expect([await waiting.send(refuse), subjects(waiting)]).toEqual([1, []]);
});

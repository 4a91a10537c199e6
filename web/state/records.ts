import { createContext, useCallback, useContext, useEffect, useMemo, useState } from 'react';
import useSWR, { mutate } from 'swr';
import type { Learnt, RecordInput, SiteRecord } from '../../core/index.ts';
import { ApiError, addRecord, sentence } from './api.ts';
import { kept } from './kept.ts';
import { useSession } from './session.ts';
import { WaitingRecords } from './waiting-records.ts';

const none: readonly SiteRecord[] = [];

/** Another window or another person may record at the same time. */
const refreshMs = 5_000;

/** What was done and seen on site: what the server has, and what waits here until the server answers again. */
export function useRecordsOf(siteId: string): readonly SiteRecord[] {
  const url = `/api/sites/${siteId}/records`;
  const { data } = useSWR<readonly SiteRecord[]>(url, { refreshInterval: refreshMs });
  const waiting = useMemo(() => new WaitingRecords(siteId, kept), [siteId]);
  const [left, setLeft] = useState(() => waiting.all());
  useEffect(() => {
    const look = (): void => setLeft(waiting.all());
    const send = (): void => {
      void waiting
        .send((record) => addRecord(siteId, record))
        .then((sent) => {
          if (sent > 0) void mutate(url);
          look();
        });
    };
    const timer = setInterval(send, refreshMs);
    window.addEventListener('online', send);
    window.addEventListener('netter-waiting', look);
    send();
    return () => {
      clearInterval(timer);
      window.removeEventListener('online', send);
      window.removeEventListener('netter-waiting', look);
    };
  }, [waiting, siteId, url]);
  return useMemo(() => {
    const there = data ?? none;
    const last = there.at(-1)?.id ?? 0;
    return left.length === 0
      ? there
      : [...there, ...left.map((record, index) => ({ ...record, id: last + 1 + index }))];
  }, [data, left]);
}

const usual: Learnt = {};

/** How long steps took on earlier jobs; the usual times while nobody knows. */
export const useLearnt = (): Learnt =>
  useSWR<Learnt>('/api/times', { revalidateOnFocus: false }).data ?? usual;

export const RecordsContext = createContext<readonly SiteRecord[]>(none);
export const useRecords = (): readonly SiteRecord[] => useContext(RecordsContext);

/** Adds a record under the initials of whoever holds the laptop; a refusal is a sentence. */
export function useAddRecord(): {
  add: (record: Omit<RecordInput, 'initials' | 'revision'>) => Promise<boolean>;
  problem: string | undefined;
} {
  const session = useSession();
  const [problem, setProblem] = useState<string>();
  const add = useCallback(
    async (record: Omit<RecordInput, 'initials' | 'revision'>): Promise<boolean> => {
      const initials = kept.getItem('netter-initials')?.trim() ?? '';
      if (initials === '') {
        setProblem('Type your initials first: a record says who did it.');
        document.querySelector<HTMLElement>('[data-initials]')?.focus();
        return false;
      }
      const whole = { ...record, initials, revision: session.snapshot().revision };
      try {
        await session.flush();
        await addRecord(session.id, { ...whole, revision: session.snapshot().revision });
        await mutate(`/api/sites/${session.id}/records`);
        setProblem(undefined);
        return true;
      } catch (error) {
        if (error instanceof ApiError) {
          setProblem(sentence(error));
          return false;
        }
        // Nobody answered: the record waits here, with the time at which it was made.
        new WaitingRecords(session.id, kept).add({ ...whole, at: new Date().toISOString() });
        window.dispatchEvent(new Event('netter-waiting'));
        setProblem('The program does not answer. The record is kept here, and goes in as soon as it does.');
        return true;
      }
    },
    [session],
  );
  return { add, problem };
}

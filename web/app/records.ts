import { createContext, useCallback, useContext, useState } from 'react';
import useSWR, { mutate } from 'swr';
import type { Learnt, RecordInput, SiteRecord } from '../../core/index.ts';
import { addRecord, sentence } from './api.ts';
import { useSession } from './session.ts';

const none: readonly SiteRecord[] = [];

/** What was done and seen on site, from the server. */
export function useRecordsOf(siteId: string): readonly SiteRecord[] {
  return useSWR<readonly SiteRecord[]>(`/api/sites/${siteId}/records`).data ?? none;
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
      const initials = localStorage.getItem('netter-initials')?.trim() ?? '';
      if (initials === '') {
        setProblem('Type your initials first: a record says who did it.');
        document.querySelector<HTMLElement>('[data-initials]')?.focus();
        return false;
      }
      try {
        await session.flush();
        await addRecord(session.id, { ...record, initials, revision: session.snapshot().revision });
        await mutate(`/api/sites/${session.id}/records`);
        setProblem(undefined);
        return true;
      } catch (error) {
        setProblem(sentence(error));
        return false;
      }
    },
    [session],
  );
  return { add, problem };
}

import { signedFetch } from './proof.ts';
import type { Desk, Plan, RecordInput, SiteRecord, UplinkPlan } from '../../core/index.ts';

/** What the server refused, in its own sentence. */
export class ApiError extends Error {
  readonly status: number;
  readonly body: {
    error?: string;
    at?: string;
    says?: string;
    current?: SiteDocument;
    newestReadable?: number | null;
  };

  constructor(status: number, body: ApiError['body']) {
    super(body.says ?? 'The server gave no reason.');
    this.status = status;
    this.body = body;
  }
}

export interface SiteDocument {
  readonly id: string;
  readonly revision: number;
  readonly savedAt: string;
  readonly plan: Plan;
}

export interface SiteRow {
  readonly id: string;
  readonly name: string;
  readonly customer: string;
  readonly town: string;
  readonly demo: boolean;
  readonly revision: number;
  readonly savedAt: string;
  /** Null while they are being counted. */
  readonly blockers: number | null;
  readonly warnings: number | null;
  /** What is due; null while it is being worked out. */
  readonly desk: Desk | null;
}

/** A request that is not answered in this time is given up, and says so. */
const longestMs = 20_000;
/** A file takes as long as it is large. */
const longestFileMs = 300_000;

async function send<T>(method: string, url: string, body: RequestInit, limitMs: number): Promise<T> {
  const reply = await signedFetch(url, { method, signal: AbortSignal.timeout(limitMs), ...body });
  const text = await reply.text();
  const json = text === '' ? undefined : (JSON.parse(text) as unknown);
  if (!reply.ok) throw new ApiError(reply.status, (json ?? {}) as ApiError['body']);
  return json as T;
}

const request = <T>(method: string, url: string, body?: unknown): Promise<T> =>
  send(
    method,
    url,
    body === undefined ? {} : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) },
    longestMs,
  );

/** Sends a backup file as it is. */
export const sendFile = <T>(url: string, file: Blob): Promise<T> =>
  send('POST', url, { headers: { 'content-type': 'application/gzip' }, body: file }, longestFileMs);

/** A file of the server, such as a backup. */
export async function getFile(url: string): Promise<Blob> {
  const reply = await signedFetch(url, { method: 'GET', signal: AbortSignal.timeout(longestFileMs) });
  if (!reply.ok) throw new ApiError(reply.status, (await reply.json()) as ApiError['body']);
  return reply.blob();
}

export const getJson = <T>(url: string): Promise<T> => request<T>('GET', url);
export const postJson = <T>(url: string, body: object): Promise<T> => request<T>('POST', url, body);
export const keepTemplate = (name: string, uplink: UplinkPlan): Promise<unknown> =>
  request('PUT', '/api/templates', { name, uplink });
export const createSite = (plan: Plan): Promise<{ id: string }> => request('POST', '/api/sites', { plan });
export const saveSite = (
  id: string,
  base: number,
  plan: Plan,
): Promise<{ revision: number; savedAt: string }> => request('PUT', `/api/sites/${id}`, { base, plan });
export const removeSite = (id: string): Promise<void> => request('DELETE', `/api/sites/${id}`);
/** A damaged site goes on from the newest revision that can be read. */
export const recoverSite = (id: string): Promise<unknown> => request('POST', `/api/sites/${id}/recover`, {});
/** Notes that a print or a file names a revision: it is never thinned. A failure is no reason not to print. */
export const keepRevision = (id: string, revision: number, why: 'print' | 'file'): void =>
  void request('POST', `/api/sites/${id}/kept`, { revision, why }).catch(() => {});
export const addRecord = (id: string, record: RecordInput): Promise<SiteRecord> =>
  request('POST', `/api/sites/${id}/records`, record);

/** A sentence for whatever went wrong. */
export const sentence = (error: unknown): string =>
  error instanceof ApiError
    ? error.message
    : error instanceof DOMException && error.name === 'TimeoutError'
      ? `Not saved: the program behind this page did not answer within ${longestMs / 1000} seconds. What you typed is kept in this browser; Netter tries again automatically.`
      : 'No answer from Netter. Check that it is running. What you typed is kept in this browser.';

/** A new identifier for a row. */
export const newId = (): string => crypto.randomUUID().slice(0, 8);

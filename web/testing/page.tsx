import { jest } from '@jest/globals';
import { act, configure, render } from '@testing-library/react';
import { userEvent, type UserEvent } from '@testing-library/user-event';
import { useEffect, useState, type ReactNode } from 'react';
import { MemoryRouter } from 'react-router';
import type { Plan } from '../../core/index.ts';
import { AnalysisContext, type Analysis } from '../state/analysis.ts';
import { FocusContext } from '../state/focus.ts';
import { RecordsContext } from '../state/records.ts';
import { SessionContext, SiteSession } from '../state/session.ts';
import { Signal } from '../state/signal.ts';
import { FiguresContext } from '../parts/figures.tsx';
import { analysisOf } from './analysis.ts';

// Whether each thing around a button is shown costs seconds in jsdom, which knows no style sheet anyway.
configure({ defaultHidden: true });

/** What the page sent, in order: method, path, body. */
export interface Sent {
  readonly method: string;
  readonly path: string;
  readonly body: unknown;
}

export interface OpenPage {
  readonly session: SiteSession;
  readonly user: UserEvent;
  readonly sent: readonly Sent[];
  readonly plan: () => Plan;
}

/** Findings follow the plan as they do beside the thread, only at once. */
function Live({ session, children }: { session: SiteSession; children: ReactNode }) {
  const [analysis] = useState(() => new Signal<Analysis | undefined>(analysisOf(session.snapshot().plan)));
  useEffect(
    () => session.state.subscribe(() => analysis.set(analysisOf(session.snapshot().plan))),
    [session, analysis],
  );
  return <AnalysisContext value={analysis}>{children}</AnalysisContext>;
}

/** Opens a part of the page on a plan, to be clicked and typed on. The server is one that takes everything. */
export function openPage(plan: Plan, part: ReactNode, place = ''): OpenPage {
  const sent: Sent[] = [];
  const answer = (path: string, init: RequestInit = {}): Promise<Partial<Response>> => {
    sent.push({
      method: init.method ?? 'GET',
      path,
      body: typeof init.body === 'string' ? JSON.parse(init.body) : undefined,
    });
    const document = { id: 'site', revision: sent.length + 1, savedAt: '2026-03-02T09:05:00Z', plan };
    return Promise.resolve({ ok: true, status: 200, text: () => Promise.resolve(JSON.stringify(document)) });
  };
  Object.assign(globalThis, { fetch: jest.fn(answer) });
  // A thread that never answers: what it computes is tested with the core.
  Object.assign(globalThis, {
    Worker: class extends EventTarget {
      postMessage(): void {}
      terminate(): void {}
    },
  });
  localStorage.clear();
  const session = new SiteSession({ id: 'site', revision: 1, savedAt: '2026-03-02T09:00:00Z', plan });
  render(
    <MemoryRouter initialEntries={['/sites/site/sheet']}>
      <SessionContext value={session}>
        <RecordsContext value={[]}>
          <FocusContext value={{ place: new Signal(place), goTo: () => {} }}>
            <FiguresContext value={new Signal(true)}>
              <Live session={session}>{part}</Live>
            </FiguresContext>
          </FocusContext>
        </RecordsContext>
      </SessionContext>
    </MemoryRouter>,
  );
  return { session, user: userEvent.setup(), sent, plan: () => session.snapshot().plan };
}

/** Something that is done to the session beside the page, such as a key of the shell. */
export const meanwhile = (done: () => void): void => act(done);

import type { ReactNode } from 'react';
import { renderToStaticMarkup } from 'react-dom/server';
import { MemoryRouter } from 'react-router';
import type { Plan, SiteRecord } from '../../core/index.ts';
import { AnalysisContext, type Analysis } from '../state/analysis.ts';
import { RecordsContext } from '../state/records.ts';
import { SessionContext, SiteSession } from '../state/session.ts';
import { Signal } from '../state/signal.ts';
import { FiguresContext } from '../parts/figures.tsx';
import { analysisOf } from './analysis.ts';

/** What the sheets ask of a browser while they are drawn. */
const kept = new Map<string, string>();
Object.assign(globalThis, {
  localStorage: {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => kept.set(key, value),
    removeItem: (key: string) => kept.delete(key),
  },
  location: { pathname: '/sites/site/sheet', origin: 'http://127.0.0.1' },
});

/** A session on a plan, as if it had just been opened. */
export const sessionOf = (plan: Plan): SiteSession =>
  new SiteSession({ id: 'site', revision: 1, savedAt: '2026-03-02T09:00:00Z', plan });

/** A sheet drawn once, as markup, with everything around it that it asks for, and all figures open. */
export function draw(
  plan: Plan,
  sheet: ReactNode,
  records: readonly SiteRecord[] = [],
  { folded = false }: { readonly folded?: boolean } = {},
): string {
  return renderToStaticMarkup(
    <MemoryRouter initialEntries={['/sites/site/sheet']}>
      <SessionContext value={sessionOf(plan)}>
        <RecordsContext value={records}>
          <AnalysisContext value={new Signal<Analysis | undefined>(analysisOf(plan, records))}>
            <FiguresContext value={new Signal(!folded)}>{sheet}</FiguresContext>
          </AnalysisContext>
        </RecordsContext>
      </SessionContext>
    </MemoryRouter>,
  );
}

export interface Tag {
  readonly name: string;
  readonly attributes: Readonly<Record<string, string>>;
}

const entities: Readonly<Record<string, string>> = { amp: '&', lt: '<', gt: '>', quot: '"', '#x27': "'" };
const plain = (text: string): string =>
  text.replace(/&(amp|lt|gt|quot|#x27);/g, (_, name: string) => entities[name]!);

/** The opening tags of some markup, with their attributes. */
export function tagsOf(markup: string): Tag[] {
  return [...markup.matchAll(/<([a-z][a-z0-9]*)((?:\s+[a-zA-Z-]+(?:="[^"]*")?)*)\s*\/?>/g)].map(
    ([, name, text]) => ({
      name: name!,
      attributes: Object.fromEntries(
        [...text!.matchAll(/([a-zA-Z-]+)(?:="([^"]*)")?/g)].map(([, key, value]) => [
          key!,
          plain(value ?? ''),
        ]),
      ),
    }),
  );
}

/** The words of some markup, as they would be read. */
export const wordsOf = (markup: string): string =>
  plain(markup.replace(/<style.*?<\/style>/gs, '').replace(/<[^>]*>/g, ' ')).replace(/\s+/g, ' ');

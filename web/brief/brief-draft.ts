import type { Answers } from '../../core/index.ts';
import { kept as texts } from '../state/kept.ts';

/** A brief that was begun in this browser: it survives a reload and a browser that is killed, without the passwords that stood in it. */
interface BriefDraft {
  readonly text: string;
  readonly answers: Answers;
}

const key = 'netter-brief';

export function loadDraft(): BriefDraft {
  try {
    const kept = JSON.parse(texts.getItem(key) ?? 'null') as Partial<BriefDraft> | null;
    if (kept && typeof kept.text === 'string' && typeof kept.answers === 'object' && kept.answers)
      return { text: kept.text, answers: kept.answers };
  } catch {
    // A browser that keeps nothing, or something that is no draft: the brief begins empty.
  }
  return { text: '', answers: {} };
}

/** Keeps the draft; each secret of the text gives way to dots. */
export function keepDraft(
  { text, answers }: BriefDraft,
  secrets: readonly { readonly value: string }[],
): void {
  const safe = secrets.reduce((now, { value }) => now.replaceAll(value, '…'), text);
  texts.setItem(key, JSON.stringify({ text: safe, answers }));
}

export const dropDraft = (): void => texts.removeItem(key);

import { beforeEach, expect, test } from '@jest/globals';
import { dropDraft, keepDraft, loadDraft } from './brief-draft.ts';

const kept = new Map<string, string>();
beforeEach(() => {
  kept.clear();
  Object.assign(globalThis, {
    sessionStorage: {
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (key: string, value: string) => void kept.set(key, value),
      removeItem: (key: string) => void kept.delete(key),
    },
  });
});

test('a brief survives a reload, and no password of it is kept', () => {
  const text = 'User name: a1@line.example\nPassword: Wren-Teapot-41\nagain: Wren-Teapot-41';
  keepDraft({ text, answers: { name: 'Mill' } }, [{ value: 'Wren-Teapot-41' }]);
  expect([...kept.values()].join()).not.toContain('Teapot');
  expect(loadDraft()).toEqual({ text: text.replaceAll('Wren-Teapot-41', '…'), answers: { name: 'Mill' } });
  dropDraft();
  expect(loadDraft()).toEqual({ text: '', answers: {} });
});

test('what is no draft begins an empty brief', () => {
  for (const text of ['{', 'null', '[]', '{"text":7,"answers":{}}', '{"text":"x","answers":null}']) {
    kept.set('netter-brief', text);
    expect(loadDraft()).toEqual({ text: '', answers: {} });
  }
});

test('a browser that keeps nothing holds nobody up', () => {
  Object.assign(globalThis, {
    sessionStorage: {
      getItem: () => {
        throw new DOMException('denied', 'SecurityError');
      },
      setItem: () => {
        throw new DOMException('full', 'QuotaExceededError');
      },
    },
  });
  expect(() => keepDraft({ text: 'x', answers: {} }, [])).not.toThrow();
  expect(loadDraft()).toEqual({ text: '', answers: {} });
});

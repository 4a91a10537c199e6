import { beforeEach, expect, test } from '@jest/globals';
import { kept } from '../state/kept.ts';
import { dropDraft, keepDraft, loadDraft } from './brief-draft.ts';

beforeEach(() => dropDraft());

test('a brief survives a reload, and no password of it is kept', () => {
  const text = 'User name: a1@line.example\nPassword: Wren-Teapot-41\nagain: Wren-Teapot-41';
  keepDraft({ text, answers: { name: 'Mill' } }, [{ value: 'Wren-Teapot-41' }]);
  expect(kept.getItem('netter-brief')).not.toContain('Teapot');
  expect(loadDraft()).toEqual({ text: text.replaceAll('Wren-Teapot-41', '…'), answers: { name: 'Mill' } });
  dropDraft();
  expect(loadDraft()).toEqual({ text: '', answers: {} });
});

test('what is no draft begins an empty brief', () => {
  for (const text of ['{', 'null', '[]', '{"text":7,"answers":{}}', '{"text":"x","answers":null}']) {
    kept.setItem('netter-brief', text);
    expect(loadDraft()).toEqual({ text: '', answers: {} });
  }
});

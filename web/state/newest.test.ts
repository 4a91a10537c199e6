import { expect, test } from '@jest/globals';
import { Newest } from './newest.ts';

test('while one task runs, only the newest of those asked for waits; one that fails holds up nobody', async () => {
  const begun: number[] = [];
  let end: () => void = () => {};
  const tasks = new Newest<number>((wanted) => {
    begun.push(wanted);
    return new Promise((resolve, reject) => (end = wanted === 1 ? reject : resolve));
  });
  const turn = (): Promise<void> => new Promise((resolve) => setTimeout(resolve));
  for (const wanted of [1, 2, 3, 4]) tasks.ask(wanted);
  expect(begun).toEqual([1]);
  end();
  await turn();
  expect(begun).toEqual([1, 4]);
  end();
  await turn();
  tasks.ask(5);
  expect(begun).toEqual([1, 4, 5]);
  tasks.ask(6);
  tasks.clear();
  end();
  await turn();
  expect(begun).toEqual([1, 4, 5]);
});

test('a task learns that its result is no longer the newest', async () => {
  const wanted: boolean[] = [];
  const tasks = new Newest<string>(async (_each, isNewest) => {
    await Promise.resolve();
    wanted.push(isNewest());
  });
  tasks.ask('old');
  tasks.ask('new');
  await new Promise((resolve) => setTimeout(resolve));
  expect(wanted).toEqual([false, true]);
});

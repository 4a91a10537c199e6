/** What the search has to know of a thing to do. */
export interface Task {
  readonly id: string;
  readonly needs: readonly string[];
  /** Seconds of work with the hands. */
  readonly handSeconds: number;
  /** Seconds that pass by themselves afterwards; other work goes on meanwhile. */
  readonly waitSeconds: number;
  /** What nothing else may use until the wait is over. */
  readonly busy: readonly string[];
  /** What it uses itself. */
  readonly uses: readonly string[];
  /** Where it is done; going somewhere else takes a moment. */
  readonly place: string;
  /** Things of one group are finished before another group begins; empty where it has none. */
  readonly group: string;
  /** Heading under which it stands: work that belongs together is kept together. */
  readonly phase: string;
}

/** When a task begins, when the hands are free again, and when its wait is over; seconds from the start. */
export interface Slot {
  readonly id: string;
  readonly start: number;
  readonly free: number;
  readonly end: number;
  /** The task because of which this one began no sooner; empty where it was the hands. */
  readonly after: string;
}

/** Going to another place, and beginning with something else: a moment each (common practice, no source). */
const walkSeconds = 45;
const turnSeconds = 20;
/** Orders that are followed side by side, and things that are tried next in each. */
const beam = 12;
const tried = 8;
/** A site with more steps than this is ordered by the first that may come next, and not searched. */
const largeCount = 160;

/** A task with its place in the written order; its needs are such places. */
interface Numbered extends Omit<Task, 'needs'> {
  readonly index: number;
  readonly needs: readonly number[];
}

/** Needs that do not exist are left out. */
function numbered(tasks: readonly Task[]): Numbered[] {
  const places = new Map(tasks.map(({ id }, index) => [id, index]));
  return tasks.map((task, index) => ({
    ...task,
    index,
    needs: task.needs.flatMap((need) => places.get(need) ?? []),
  }));
}

/** Where the hands are, and what is over when. */
interface Clock {
  time: number;
  place: string;
  phase: string;
  busy: Map<string, number>;
  placed: Slot[];
  /** The same by place in the written order; undefined for what was not begun. */
  slots: (Slot | undefined)[];
}

const atStart = (): Clock => ({ time: 0, place: '', phase: '', busy: new Map(), placed: [], slots: [] });

interface State extends Readonly<Clock> {
  /** Places in the written order of what was placed. */
  readonly ranks: readonly number[];
  readonly group: string;
  /** Cost so far, and what the longest chain of the rest takes at least. */
  readonly bound: number;
  /** Seconds in which the hands did nothing, or walked. */
  readonly wasted: number;
  /** Tells which things are done. */
  readonly done: number;
}

/** One more task after a state. A search looks at many of these and goes on from few. */
interface Candidate {
  readonly before: State;
  readonly task: Numbered;
  readonly slot: Slot;
  readonly place: string;
  readonly bound: number;
  readonly wasted: number;
  readonly done: number;
}

/** Which of two orders keeps to the written one for longer. */
function written(a: Candidate, b: Candidate): number {
  if (a.before === b.before) return a.task.index - b.task.index;
  const [first, second] = [a.before.ranks, b.before.ranks];
  const place = first.findIndex((rank, index) => rank !== second[index]);
  return place < 0 ? a.task.index - b.task.index : first[place]! - second[place]!;
}

const better = (a: Candidate, b: Candidate): number =>
  a.bound - b.bound || a.wasted - b.wasted || written(a, b);

/** Seconds of the longest chain of work and waits from each task to the end: what must begin early. */
function tails(tasks: readonly Numbered[]): number[] {
  const followers = tasks.map((): number[] => []);
  for (const { needs, index } of tasks) for (const need of needs) followers[need]!.push(index);
  const found: number[] = [];
  const open = new Set<number>();
  const tail = (index: number): number => {
    const known = found[index];
    if (known !== undefined) return known;
    if (open.has(index))
      throw new Error(
        `Steps need each other in a circle: ${[...open].map((each) => tasks[each]!.id).join(', ')}`,
      );
    open.add(index);
    const after = Math.max(0, ...followers[index]!.map(tail));
    open.delete(index);
    const { handSeconds, waitSeconds } = tasks[index]!;
    return (found[index] = handSeconds + waitSeconds + after);
  };
  for (const { index } of tasks) tail(index);
  return found;
}

/**
 * The order in which one person is done soonest: each task after all that it needs, waits beside work of the hands,
 * groups one after the other, nothing on what is busy. A beam search with the longest chain as its bound; among equal
 * ones the order in which the tasks were written. Needs that do not exist are ignored.
 */
export function searchOrder<T extends Task>(items: readonly T[]): { order: T[]; slots: Slot[] } {
  const tasks = numbered(items);
  const tail = tails(tasks);
  const groups = new Map<string, number[]>();
  for (const { index, group } of tasks)
    if (group !== '') groups.set(group, [...(groups.get(group) ?? []), index]);
  const inOrder = (order: readonly number[]): T[] => order.map((index) => items[index]!);
  if (tasks.length > largeCount) {
    const order = inOrder(writtenOrder(tasks, groups));
    return { order, slots: timesOf(order) };
  }
  const hands = tasks.reduce((sum, { handSeconds }) => sum + handSeconds, 0);
  const longestFirst = tasks.map(({ index }) => index).sort((a, b) => tail[b]! - tail[a]!);
  const nextOf = (state: State): Candidate[] => {
    const isOpen = (index: number): boolean => state.slots[index] === undefined;
    const longest = longestFirst.find(isOpen)!;
    const second = longestFirst.find((index) => index !== longest && isOpen(index));
    const found: Candidate[] = [];
    for (const task of tasks) {
      if (!isOpen(task.index) || task.needs.some(isOpen)) continue;
      if (task.group !== '' && state.group !== '' && task.group !== state.group) continue;
      const slot = slotOf(state, task);
      const wasted = state.wasted + slot.start - state.time;
      const rest = task.index === longest ? second : longest;
      found.push({
        before: state,
        task,
        slot,
        place: task.place === '' ? state.place : task.place,
        wasted,
        bound: Math.max(
          state.bound,
          slot.end,
          hands + wasted,
          rest === undefined ? 0 : slot.free + tail[rest]!,
        ),
        // A sum of scattered numbers is the same whatever the order, and hardly ever the same for other things.
        done: (state.done + Math.imul(task.index + 1, 2_654_435_761)) | 0,
      });
    }
    return found.sort(better).slice(0, tried);
  };
  let states: State[] = [{ ...atStart(), ranks: [], wasted: 0, group: '', bound: 0, done: 0 }];
  for (let count = 0; count < tasks.length; count += 1) {
    const next = states.flatMap(nextOf).sort(better);
    const seen = new Set<string>();
    states = next
      .filter(({ done, place }) => {
        // The same things done by another way: the first one is as good.
        const key = `${done} ${place}`;
        return !seen.has(key) && seen.add(key);
      })
      .slice(0, beam)
      .map((candidate) => after(candidate, groups.get(candidate.task.group) ?? []));
  }
  const [best] = states;
  return { order: inOrder(best!.ranks), slots: [...best!.placed] };
}

/** Of the tasks that may come next, always the one that was written first. */
function writtenOrder(tasks: readonly Numbered[], groups: ReadonlyMap<string, readonly number[]>): number[] {
  const done = new Set<number>();
  const waiting = [...tasks];
  let group = '';
  while (waiting.length > 0) {
    const ready = (task: Numbered): boolean => task.needs.every((need) => done.has(need));
    const next = waiting.findIndex(
      (task) => (task.group === '' || group === '' || task.group === group) && ready(task),
    );
    // Groups that need each other cannot be kept apart: the needs come first.
    const [task] = waiting.splice(next < 0 ? waiting.findIndex(ready) : next, 1);
    done.add(task!.index);
    if (task!.group !== '')
      group = groups.get(task!.group)!.every((index) => done.has(index)) ? '' : task!.group;
  }
  return [...done];
}

/** Moves the clock on by a task. */
function pass(clock: Clock, task: Numbered, slot: Slot): void {
  clock.time = slot.free;
  if (task.place !== '') clock.place = task.place;
  clock.phase = task.phase;
  for (const name of task.busy) clock.busy.set(name, Math.max(slot.end, clock.busy.get(name) ?? 0));
  clock.placed.push(slot);
  clock.slots[task.index] = slot;
}

/** The state that a search goes on from. */
function after({ before, task, slot, bound, wasted, done }: Candidate, group: readonly number[]): State {
  const state = {
    ...before,
    busy: task.busy.length === 0 ? before.busy : new Map(before.busy),
    placed: [...before.placed],
    slots: [...before.slots],
    ranks: [...before.ranks, task.index],
    bound,
    wasted,
    done,
  };
  pass(state, task, slot);
  // The last of a group sets the others free.
  const over = task.group !== '' && group.every((index) => state.slots[index] !== undefined);
  return { ...state, group: over ? '' : task.group || before.group };
}

/** When a task that comes next begins: not before what it needs is over, and what it uses is free. */
function slotOf(clock: Readonly<Clock>, task: Numbered): Slot {
  let start = clock.time;
  if (task.place !== '' && clock.place !== '' && task.place !== clock.place) start += walkSeconds;
  else if (clock.phase !== '' && task.phase !== clock.phase) start += turnSeconds;
  let waitedFor: Slot | undefined;
  for (const need of task.needs) {
    const slot = clock.slots[need];
    if (slot && slot.end > start) {
      start = slot.end;
      waitedFor = slot;
    }
  }
  for (const name of task.uses) {
    const end = clock.busy.get(name) ?? 0;
    if (end > start) {
      start = end;
      waitedFor = clock.placed.find((slot) => slot.end === end) ?? waitedFor;
    }
  }
  const free = start + task.handSeconds;
  return { id: task.id, start, free, end: free + task.waitSeconds, after: waitedFor?.id ?? '' };
}

/** The times of tasks that are done in this order. */
export function timesOf(tasks: readonly Task[]): Slot[] {
  const clock = atStart();
  for (const task of numbered(tasks)) pass(clock, task, slotOf(clock, task));
  return clock.placed;
}

/** Tasks that make the whole as long as it is: without one of them it would be over sooner. */
export function criticalPath(slots: readonly Slot[]): string[] {
  const path: string[] = [];
  let current = [...slots].sort((a, b) => b.end - a.end)[0];
  while (current) {
    const { id, after, start } = current;
    path.unshift(id);
    const index = slots.findIndex((slot) => slot.id === id);
    current = after === '' ? slots[index - 1] : slots.find((slot) => slot.id === after);
    if (current && current.start > start) break;
  }
  return path;
}

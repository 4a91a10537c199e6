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

interface State {
  readonly placed: readonly Slot[];
  /** Places in the written order of what was placed. */
  readonly ranks: readonly number[];
  readonly time: number;
  readonly place: string;
  readonly phase: string;
  readonly group: string;
  readonly busy: ReadonlyMap<string, number>;
  readonly ends: ReadonlyMap<string, number>;
  /** Cost so far, and what the longest chain of the rest takes at least. */
  readonly bound: number;
  /** Seconds in which the hands did nothing, or walked. */
  readonly wasted: number;
  /** Tells which things are done. */
  readonly done: number;
}

/** Which of two orders keeps to the written one for longer. */
function written(a: readonly number[], b: readonly number[]): number {
  const place = a.findIndex((rank, index) => rank !== b[index]);
  return place < 0 ? 0 : a[place]! - b[place]!;
}

const start: State = {
  placed: [],
  ranks: [],
  time: 0,
  wasted: 0,
  place: '',
  phase: '',
  group: '',
  busy: new Map(),
  ends: new Map(),
  bound: 0,
  done: 0,
};

/** Longest chain of work and waits from each task to the end: what must begin early. */
function tails(tasks: readonly Task[]): Map<string, number> {
  const followers = new Map<string, Task[]>();
  for (const task of tasks)
    for (const need of task.needs) followers.set(need, [...(followers.get(need) ?? []), task]);
  const found = new Map<string, number>();
  const open = new Set<string>();
  const tail = (task: Task): number => {
    const known = found.get(task.id);
    if (known !== undefined) return known;
    if (open.has(task.id)) throw new Error(`Steps need each other in a circle: ${[...open].join(', ')}`);
    open.add(task.id);
    const after = Math.max(0, ...(followers.get(task.id) ?? []).map(tail));
    open.delete(task.id);
    const length = task.handSeconds + task.waitSeconds + after;
    found.set(task.id, length);
    return length;
  };
  for (const task of tasks) tail(task);
  return found;
}

/**
 * The order in which one person is done soonest: each task after all that it needs, waits beside work of the hands,
 * groups one after the other, nothing on what is busy. A beam search with the longest chain as its bound; among equal
 * ones the order in which the tasks were written. Needs that do not exist are ignored.
 */
export function searchOrder<T extends Task>(items: readonly T[]): { order: T[]; slots: Slot[] } {
  const known = new Set(items.map(({ id }) => id));
  const tasks = items.map((task) => ({ ...task, needs: task.needs.filter((need) => known.has(need)) }));
  const tail = tails(tasks);
  const rank = new Map(tasks.map(({ id }, index) => [id, index]));
  const groups = new Map<string, string[]>();
  for (const { id, group } of tasks) if (group !== '') groups.set(group, [...(groups.get(group) ?? []), id]);
  const byId = new Map(items.map((item) => [item.id, item]));
  if (tasks.length > largeCount) {
    const order = writtenOrder(tasks, groups);
    return { order: order.map(({ id }) => byId.get(id)!), slots: timesOf(order) };
  }
  const hands = tasks.reduce((sum, { handSeconds }) => sum + handSeconds, 0);
  const better = (a: State, b: State): number =>
    a.bound - b.bound || a.wasted - b.wasted || written(a.ranks, b.ranks);
  let states: State[] = [start];
  for (let count = 0; count < tasks.length; count += 1) {
    const next = states.flatMap((state) => {
      const ready: Task[] = [];
      for (const task of tasks) {
        if (state.ends.has(task.id) || !task.needs.every((need) => state.ends.has(need))) continue;
        if (task.group !== '' && state.group !== '' && task.group !== state.group) continue;
        ready.push(task);
      }
      return ready
        .map((task) => begin(state, task, groups.get(task.group) ?? [], tail, hands, rank.get(task.id)!))
        .sort(better)
        .slice(0, tried);
    });
    const seen = new Set<string>();
    states = next
      .sort(better)
      .filter(({ done, place }) => {
        // The same things done by another way: the first one is as good.
        const key = `${done} ${place}`;
        return !seen.has(key) && seen.add(key);
      })
      .slice(0, beam);
  }
  const [best] = states;
  return { order: best!.placed.map(({ id }) => byId.get(id)!), slots: [...best!.placed] };
}

/** Of the tasks that may come next, always the one that was written first. */
function writtenOrder(tasks: readonly Task[], groups: ReadonlyMap<string, readonly string[]>): Task[] {
  const done = new Set<string>();
  const waiting = [...tasks];
  const order: Task[] = [];
  let group = '';
  while (waiting.length > 0) {
    const ready = (task: Task): boolean => task.needs.every((need) => done.has(need));
    const next = waiting.findIndex(
      (task) => (task.group === '' || group === '' || task.group === group) && ready(task),
    );
    // Groups that need each other cannot be kept apart: the needs come first.
    const [task] = waiting.splice(next < 0 ? waiting.findIndex(ready) : next, 1);
    order.push(task!);
    done.add(task!.id);
    if (task!.group !== '') group = groups.get(task!.group)!.every((id) => done.has(id)) ? '' : task!.group;
  }
  return order;
}

function begin(
  state: State,
  task: Task,
  group: readonly string[],
  tail: ReadonlyMap<string, number>,
  hands: number,
  index: number,
): State {
  const slot = slotOf(state, task);
  const ends = new Map(state.ends).set(task.id, slot.end);
  const busy = new Map(state.busy);
  for (const name of task.busy) busy.set(name, Math.max(slot.end, busy.get(name) ?? 0));
  // The last of a group sets the others free.
  const over = task.group !== '' && group.every((id) => ends.has(id));
  const wasted = state.wasted + slot.start - state.time;
  let bound = Math.max(state.bound, slot.end, hands + wasted);
  for (const [id, length] of tail) if (!ends.has(id)) bound = Math.max(bound, slot.free + length);
  return {
    placed: [...state.placed, slot],
    ranks: [...state.ranks, index],
    time: slot.free,
    wasted,
    place: task.place === '' ? state.place : task.place,
    phase: task.phase,
    group: over ? '' : task.group || state.group,
    busy,
    ends,
    bound,
    // A sum of scattered numbers is the same whatever the order, and hardly ever the same for other things.
    done: (state.done + Math.imul(index + 1, 2_654_435_761)) | 0,
  };
}

type Clock = Pick<State, 'time' | 'place' | 'phase' | 'busy' | 'ends' | 'placed'>;

function slotOf(state: Clock, task: Task): Slot {
  let start = state.time;
  if (task.place !== '' && state.place !== '' && task.place !== state.place) start += walkSeconds;
  else if (state.phase !== '' && task.phase !== state.phase) start += turnSeconds;
  let after = '';
  for (const need of task.needs) {
    const end = state.ends.get(need) ?? 0;
    if (end > start) [start, after] = [end, need];
  }
  for (const name of task.uses) {
    const end = state.busy.get(name) ?? 0;
    if (end > start) {
      start = end;
      after = state.placed.find((slot) => slot.end === end)?.id ?? after;
    }
  }
  const free = start + task.handSeconds;
  return { id: task.id, start, free, end: free + task.waitSeconds, after };
}

/** The times of tasks that are done in this order. */
export function timesOf(tasks: readonly Task[]): Slot[] {
  const known = new Set(tasks.map(({ id }) => id));
  const clock = {
    time: 0,
    place: '',
    phase: '',
    busy: new Map<string, number>(),
    ends: new Map<string, number>(),
    placed: [] as Slot[],
  };
  for (const task of tasks) {
    const slot = slotOf(clock, { ...task, needs: task.needs.filter((need) => known.has(need)) });
    clock.placed.push(slot);
    clock.time = slot.free;
    if (task.place !== '') clock.place = task.place;
    clock.phase = task.phase;
    clock.ends.set(task.id, slot.end);
    for (const name of task.busy) clock.busy.set(name, Math.max(slot.end, clock.busy.get(name) ?? 0));
  }
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

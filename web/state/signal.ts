import { useSyncExternalStore } from 'react';

/** A value that components can follow in part: one that follows a piece is drawn anew only when that piece changes. */
export class Signal<T> {
  #value: T;
  #listeners = new Set<() => void>();

  constructor(value: T) {
    this.#value = value;
  }

  get = (): T => this.#value;

  set = (value: T): void => {
    if (Object.is(value, this.#value)) return;
    this.#value = value;
    for (const listener of this.#listeners) listener();
  };

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };
}

/** A piece of a signal. The piece must be the same value, or the same object, as long as nothing in it changes. */
export function useSignal<T, Piece>(signal: Signal<T>, piece: (value: T) => Piece): Piece {
  const now = (): Piece => piece(signal.get());
  // The same piece where a sheet is drawn once, as markup.
  return useSyncExternalStore(signal.subscribe, now, now);
}

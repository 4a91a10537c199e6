import { createContext, useContext } from 'react';
import { Signal, useSignal } from './signal.ts';

/** Which field the Workings column answers for, and the way to a field from anywhere. */
export interface Focus {
  readonly place: Signal<string>;
  /** Opens the sheet that has the field and puts the cursor there. */
  readonly goTo: (at: string) => void;
}

export const FocusContext = createContext<Focus>({ place: new Signal(''), goTo: () => {} });
export const useFocus = (): Focus => useContext(FocusContext);

/** The pointer in focus; the component follows every move. */
export const usePlace = (): string => useSignal(useFocus().place, (place) => place);

/** Whether exactly this field is in focus. */
export const useIsFocused = (at: string): boolean => useSignal(useFocus().place, (place) => place === at);

/** The field at a pointer, or the nearest thing around it that can be focused. */
export function elementAt(at: string): HTMLElement | null {
  for (let pointer = at; pointer !== ''; pointer = pointer.slice(0, pointer.lastIndexOf('/'))) {
    const element = document.querySelector<HTMLElement>(`[data-at="${CSS.escape(pointer)}"]`);
    if (element) return element;
  }
  return null;
}

/** Frames after which the nearest thing stands in for a field that is not there yet. */
const patience = 6;
/** Milliseconds for which a field is waited for: its sheet may be on its way, its row not drawn yet. */
const longest = 10_000;
let waited = 0;

/**
 * Puts the cursor in a field. While the field is not there, the nearest thing around it has the cursor; the field gets
 * it when it comes, unless the cursor was moved meanwhile or another field is wanted.
 */
export function focusWhenThere(place: string): void {
  const mine = (waited += 1);
  const began = performance.now();
  let frames = 0;
  let standsIn = false;
  /** What had the cursor when the nearest thing was given it. */
  let cursor: Element | null = null;
  const take = (element: HTMLElement | null): void => {
    element?.focus();
    element?.scrollIntoView({ block: 'center' });
  };
  const look = (): void => {
    if (mine !== waited) return;
    if (standsIn && document.activeElement !== cursor && document.activeElement !== document.body) return;
    const exact = document.querySelector<HTMLElement>(`[data-at="${CSS.escape(place)}"]`);
    if (exact) {
      take(exact);
      return;
    }
    if (!standsIn && (frames += 1) >= patience) {
      const nearest = elementAt(place);
      take(nearest);
      standsIn = nearest !== null;
      cursor = document.activeElement;
    }
    if (performance.now() - began < longest) requestAnimationFrame(look);
  };
  look();
}

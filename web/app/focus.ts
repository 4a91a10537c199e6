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

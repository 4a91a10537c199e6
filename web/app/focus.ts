import { createContext, useContext } from 'react';

/** Which field the Workings column answers for, and the way to a field from anywhere. */
export interface Focus {
  readonly at: string;
  readonly setAt: (at: string) => void;
  /** Opens the sheet that has the field and puts the cursor there. */
  readonly goTo: (at: string) => void;
}

export const FocusContext = createContext<Focus>({ at: '', setAt: () => {}, goTo: () => {} });
export const useFocus = (): Focus => useContext(FocusContext);

/** The field at a pointer, or the nearest thing around it that can be focused. */
export function elementAt(at: string): HTMLElement | null {
  for (let pointer = at; pointer !== ''; pointer = pointer.slice(0, pointer.lastIndexOf('/'))) {
    const element = document.querySelector<HTMLElement>(`[data-at="${CSS.escape(pointer)}"]`);
    if (element) return element;
  }
  return null;
}

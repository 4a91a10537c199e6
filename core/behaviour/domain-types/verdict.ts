/** What a reading says about what it was taken for. */
export interface Verdict {
  readonly kind: 'good' | 'doubt' | 'bad';
  readonly says: string;
}

export const verdict = (kind: Verdict['kind'], says: string): Verdict => ({ kind, says });

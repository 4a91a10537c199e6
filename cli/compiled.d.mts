export function runCompiled(file: string): {
  readonly exports: Record<string, unknown>;
  readonly keep: () => void;
};

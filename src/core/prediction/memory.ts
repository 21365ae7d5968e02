/**
 * Keeps the result of the last call for each subject, as long as the inputs are the same objects or
 * values.
 */
export function createMemory<T>() {
  const kept = new Map<string, { inputs: readonly unknown[]; result: T }>();
  const known = (subject: string, inputs: readonly unknown[]) => {
    const last = kept.get(subject);
    return last?.inputs.length === inputs.length &&
      last.inputs.every((input, i) => Object.is(input, inputs[i]))
      ? last
      : null;
  };
  const remember = (subject: string, inputs: readonly unknown[], compute: () => T): T => {
    const last = known(subject, inputs);
    if (last) return last.result;
    const result = compute();
    kept.set(subject, { inputs, result });
    return result;
  };
  /** Whether a result is there without computing it. */
  const has = (subject: string, inputs: readonly unknown[]): boolean =>
    known(subject, inputs) !== null;
  return Object.assign(remember, { has });
}

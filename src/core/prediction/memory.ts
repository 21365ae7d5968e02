/**
 * Keeps the result of the last call for each subject, as long as the inputs are the same objects or
 * values.
 */
export function createMemory<T>() {
  const kept = new Map<string, { inputs: readonly unknown[]; result: T }>();
  return (subject: string, inputs: readonly unknown[], compute: () => T): T => {
    const last = kept.get(subject);
    if (
      last?.inputs.length === inputs.length &&
      last.inputs.every((input, i) => Object.is(input, inputs[i]))
    )
      return last.result;
    const result = compute();
    kept.set(subject, { inputs, result });
    return result;
  };
}

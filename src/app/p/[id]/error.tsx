'use client';
import { PrimaryButton } from '@/ui/Button';
import { Message } from '@/ui/Message';

/** In the place of a stage that failed; the desk around it, its saving and its curves go on. */
export default function StageError({
  error,
  reset,
}: {
  readonly error: Error;
  readonly reset: () => void;
}) {
  return (
    <Message title="This stage could not be shown">
      <p>It failed with: {error.message}</p>
      <p>
        The design itself is untouched. Try again, undo the last change, or go on at another stage.
      </p>
      <PrimaryButton onPress={reset}>Try again</PrimaryButton>
    </Message>
  );
}

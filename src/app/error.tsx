'use client';
import { PrimaryButton } from '@/ui/Button';
import { Message } from '@/ui/Message';

/** Shown when a page could not be made, most likely because the database does not answer. */
export default function ErrorPage({
  reset,
}: {
  readonly error: Error;
  readonly reset: () => void;
}) {
  return (
    <Message title="This page could not be shown">
      <p>
        Most often the server or its database does not answer. Nothing that you changed is lost: it
        is kept in this browser until it can be saved.
      </p>
      <PrimaryButton onPress={reset}>Try again</PrimaryButton>
    </Message>
  );
}

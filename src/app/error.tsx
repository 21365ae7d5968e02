'use client';
import { PrimaryButton } from '@/ui/Button';
import { Message } from '@/ui/Message';
import { WhenBack } from '@/desk/saving/WhenBack';

/** Shown when a page could not be made, most likely because the database does not answer. */
export default function ErrorPage({
  error,
  reset,
}: {
  readonly error: Error & { readonly digest?: string };
  readonly reset: () => void;
}) {
  // What failed on the server comes with a digest in the place of its words.
  const isOfServer = error.digest !== undefined;
  return (
    <Message title="This page could not be shown">
      <p>
        {isOfServer
          ? 'The server or its database does not answer. The page asks again by itself.'
          : `A part of it failed: ${error.message}`}
      </p>
      <p>Nothing that you changed is lost: it is kept in this browser until it can be saved.</p>
      <PrimaryButton onPress={reset}>Try again</PrimaryButton>
      {isOfServer && <WhenBack onBack={reset} />}
    </Message>
  );
}

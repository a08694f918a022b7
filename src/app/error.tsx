'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { startTransition } from 'react';
import { ProblemNote } from '@/ui/ProblemNote';

/** The words of the error stay in the log, under the digest that the framework gives both sides. */
export default function ErrorPage({ error, reset }: { error: Error & { digest?: string }; reset: () => void }) {
  const router = useRouter();
  // What the page was given when it was opened may be old by now: it is asked for again.
  const again = () =>
    startTransition(() => {
      router.refresh();
      reset();
    });
  return (
    <main className="mx-auto max-w-2xl p-10">
      <ProblemNote
        problem={{
          code: 'unexpected',
          message: 'This page could not be shown.',
          place: 'page',
          remedy: 'Try again. Everything that was saved is still there.',
          requestId: error.digest,
        }}
      />
      <div className="mt-4 flex gap-2">
        <button className="btn btn-primary btn-sm" onClick={again}>
          Try again
        </button>
        <Link className="btn btn-sm" href="/">
          Go to the roster
        </Link>
      </div>
    </main>
  );
}

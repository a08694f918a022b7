'use client';

import { useRouter } from 'next/navigation';
import { DatabaseZap } from 'lucide-react';
import { useEffect, useState } from 'react';
import { outcomeOf } from '@/contract/client';
import { api } from '@/ui/api';

const LOOK_MS = 1_500;

/** What is known of a database that is away. */
interface Known {
  readonly doing: string;
  readonly lastWords: readonly string[];
}

/** Stands in place of a page while the database is away, and gives way to it by itself. */
export function AwayPage() {
  const router = useRouter();
  const [known, setKnown] = useState<Known | null>(null);
  useEffect(() => {
    const look = async () => {
      const outcome = await outcomeOf(api.GET('/api/health'), 'database');
      if (outcome.ok && outcome.data.database === 'there') return router.refresh();
      const { doing = '', lastWords = [] } = outcome.ok ? outcome.data : {};
      setKnown(outcome.ok ? { doing, lastWords } : null);
    };
    void look();
    const timer = setInterval(() => void look(), LOOK_MS);
    return () => clearInterval(timer);
  }, [router]);
  return (
    <main className="mx-auto max-w-2xl p-10">
      <h1 className="flex items-center gap-2 text-xl font-semibold">
        <DatabaseZap aria-hidden className="size-5 text-warning" />
        The database is away
      </h1>
      <p className="mt-3" role="status">
        {known?.doing ?? 'Looking after it …'} This page comes back by itself.
      </p>
      <p className="quiet mt-1">
        Everything that was saved is kept. What you change in another window waits until the database is back.
      </p>
      {known && known.lastWords.length > 0 && (
        <section className="mt-6">
          <h2 className="text-[13px] font-semibold">Its own last words</h2>
          <pre className="mt-1 overflow-x-auto rounded-box border border-base-300 bg-base-100 p-3 font-mono text-xs">
            {known.lastWords.join('\n')}
          </pre>
        </section>
      )}
    </main>
  );
}

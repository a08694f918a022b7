import Link from 'next/link';
import type { ReactNode } from 'react';
import { Who } from './Who';

interface PageHeadProps {
  readonly title: string;
  /** What is on the page, and how many. */
  readonly about: string;
  /** Beside the title. */
  readonly beside?: ReactNode;
  /** What can be done, on the right, before who works here. */
  readonly children?: ReactNode;
}

/** Head of a page that is about many characters: the way back to the roster, what it shows, what can be done. */
export function PageHead({ title, about, beside, children }: PageHeadProps) {
  return (
    <header className="flex h-12 shrink-0 items-center gap-6 border-b border-base-300 bg-base-100 px-4">
      <Link href="/" className="text-lg font-semibold text-primary" title="Roster">
        yarvo
      </Link>
      <h1 className="font-semibold">
        {title} <span className="quiet font-normal">{about}</span>
      </h1>
      {beside}
      <div className="ml-auto flex items-center gap-3">
        {children}
        <Who />
      </div>
    </header>
  );
}

import type { ReactNode } from 'react';

/** A titled block of the sheet. */
export function Block({ title, aside, children }: { title: string; aside?: ReactNode; children: ReactNode }) {
  return (
    <section aria-label={title} className="min-w-0">
      <div className="mb-1 flex items-baseline gap-3 border-b border-base-300 pb-0.5">
        <h2 className="font-semibold">{title}</h2>
        <span className="quiet ml-auto text-[13px]">{aside}</span>
      </div>
      {children}
    </section>
  );
}

export function Facts({ children }: { children: ReactNode }) {
  return <dl className="grid grid-cols-[6.25rem_1fr] gap-y-0.5 text-[13px]">{children}</dl>;
}

export function Fact({ name, children }: { name: string; children: ReactNode }) {
  return (
    <>
      <dt className="quiet">{name}</dt>
      <dd className="min-w-0 break-words">{children}</dd>
    </>
  );
}

/** Column heads of the sheet's small tables. */
export function Heads({ names }: { names: readonly (readonly [name: string, isNumber?: boolean])[] }) {
  return (
    <thead>
      <tr className="quiet text-left">
        {names.map(([name, isNumber], at) => (
          <th key={at} scope="col" className={`py-0.5 pr-2 font-normal ${isNumber ? 'text-right' : ''}`}>
            {name || <span className="sr-only">Choice</span>}
          </th>
        ))}
      </tr>
    </thead>
  );
}

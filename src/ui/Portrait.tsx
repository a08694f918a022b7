/** The drawing of a character by its name, in the colours of the page; the browser keeps it. */
export const Portrait = ({ hash, className = '' }: { hash: string; className?: string }) => (
  <svg aria-hidden viewBox="0 0 48 64" className={`h-14 w-11 ${className}`}>
    <use href={`/api/portraits/${hash}#figure`} width="48" height="64" />
  </svg>
);

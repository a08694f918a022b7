/** A key of the keyboard. */
export const Key = ({ children }: { children: string }) => (
  <kbd className="rounded-sm border border-base-300 bg-base-100 px-1 font-mono text-xs">{children}</kbd>
);

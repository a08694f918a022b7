/** What could not be done, one line for each; nothing where all went well. */
export function Refusals({ texts }: { readonly texts: readonly string[] }) {
  if (texts.length === 0) return null;
  return (
    <ul role="alert" className="mt-1 list-disc pl-5 text-error">
      {texts.map((text) => (
        <li key={text}>{text}</li>
      ))}
    </ul>
  );
}

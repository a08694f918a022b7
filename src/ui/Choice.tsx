interface ChoiceProps {
  readonly isOn: boolean;
  readonly title?: string;
  readonly onClick: () => void;
  readonly children: string;
}

/** A switch of the stage that says by its weight whether it is on. */
export function Choice({ isOn, title, onClick, children }: ChoiceProps) {
  return (
    <button
      type="button"
      title={title}
      aria-pressed={isOn}
      className={`rounded-field px-1.5 py-0.5 whitespace-nowrap ${isOn ? 'font-semibold text-primary' : 'quiet hover:text-base-content'}`}
      onClick={onClick}
    >
      {children}
    </button>
  );
}

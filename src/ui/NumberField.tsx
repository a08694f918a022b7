interface NumberFieldProps {
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly step?: number;
  /** Where no label stands around it. */
  readonly label?: string;
  /** Width and the like. */
  readonly className: string;
  readonly onChange: (value: number) => void;
}

/** A number that is taken when the field is left or Enter is pressed; what is out of bounds is not taken. */
export function NumberField({ value, min, max, step, label, className, onChange }: NumberFieldProps) {
  return (
    <input
      key={value}
      type="number"
      aria-label={label}
      className={`input input-xs ${className}`}
      min={min}
      max={max}
      step={step}
      defaultValue={value}
      onBlur={(event) => {
        const next = Number(event.target.value);
        if (next >= min && next <= max && next !== value) onChange(next);
      }}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
      }}
    />
  );
}

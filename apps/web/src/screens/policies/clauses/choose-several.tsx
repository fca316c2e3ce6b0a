interface Props<Value extends string> {
  readonly label: string;
  readonly hint?: string;
  readonly options: readonly { readonly value: Value; readonly label: string }[];
  readonly chosen: readonly Value[];
  readonly onChange: (chosen: readonly Value[]) => void;
}

/** Some of a few things. */
export function ChooseSeveral<Value extends string>({
  label,
  hint,
  options,
  chosen,
  onChange,
}: Props<Value>) {
  return (
    <fieldset>
      <legend className="mb-1 text-[12.5px] font-semibold text-ink-2">{label}</legend>
      <div className="flex flex-wrap gap-x-4 gap-y-1">
        {options.map((option) => (
          <label key={option.value} className="flex min-h-6 items-center gap-1.5">
            <input
              type="checkbox"
              checked={chosen.includes(option.value)}
              onChange={(event) =>
                onChange(
                  event.target.checked
                    ? [...chosen, option.value]
                    : chosen.filter((value) => value !== option.value),
                )
              }
            />
            {option.label}
          </label>
        ))}
      </div>
      {hint && <p className="mt-1 text-[12.5px] text-ink-2">{hint}</p>}
    </fieldset>
  );
}

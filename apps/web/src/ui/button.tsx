import { type ButtonHTMLAttributes, type ReactNode, useId } from 'react';

type Look = 'plain' | 'main' | 'quiet' | 'stop';

const LOOKS: Readonly<Record<Look, string>> = {
  plain: 'border-rule-strong bg-sheet text-ink hover:bg-press-soft',
  main: 'border-press bg-press text-press-text hover:opacity-90',
  quiet: 'border-transparent bg-transparent text-press hover:bg-press-soft',
  stop: 'border-stop bg-sheet text-stop hover:bg-stop-soft',
};

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  readonly look?: Look;
  /** Why it cannot be pressed. */
  readonly refusal?: string | undefined;
  /** The reason stands beside another button or in the text around it already. */
  readonly reasonIsShown?: boolean;
  readonly children: ReactNode;
}

/** A button; one that cannot be pressed says why beside it, in text. */
export function Button({
  look = 'plain',
  refusal,
  reasonIsShown = false,
  className = '',
  children,
  ...rest
}: Props) {
  const reason = useId();
  // A sign with a name of its own stands in a narrow row of others: its reason is read out and shown on it.
  const isSign = reasonIsShown || rest['aria-label'] !== undefined;
  const button = (
    <button
      type="button"
      {...rest}
      title={isSign ? (refusal ?? rest.title) : rest.title}
      aria-disabled={refusal ? true : undefined}
      aria-describedby={refusal && !isSign ? reason : rest['aria-describedby']}
      onClick={refusal ? (event) => event.preventDefault() : rest.onClick}
      className={`inline-flex items-center gap-1.5 rounded border px-2.5 py-1 whitespace-nowrap ${LOOKS[look]} ${refusal ? 'cursor-not-allowed opacity-60' : ''} ${className}`}
    >
      {children}
    </button>
  );
  if (!refusal || isSign) return button;
  return (
    <span className="inline-flex max-w-full flex-wrap items-center gap-x-2 gap-y-0.5">
      {button}
      <span id={reason} className="text-[12px] text-ink-2">
        {refusal}
      </span>
    </span>
  );
}

export function Key({ children }: { readonly children: ReactNode }) {
  return (
    <kbd className="rounded-[3px] border border-b-2 border-rule-strong bg-sheet px-1 py-0.5 font-mono text-[11px] leading-none font-semibold text-ink-2">
      {children}
    </kbd>
  );
}

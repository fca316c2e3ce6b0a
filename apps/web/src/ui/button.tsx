import type { ButtonHTMLAttributes, ReactNode } from 'react';

type Look = 'plain' | 'main' | 'quiet' | 'stop';

const LOOKS: Readonly<Record<Look, string>> = {
  plain: 'border-rule-strong bg-sheet text-ink hover:bg-press-soft',
  main: 'border-press bg-press text-press-text hover:opacity-90',
  quiet: 'border-transparent bg-transparent text-press hover:bg-press-soft',
  stop: 'border-stop bg-sheet text-stop hover:bg-stop-soft',
};

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  readonly look?: Look;
  /** Why it cannot be pressed; shown on it, so that nothing is greyed out without its reason. */
  readonly refusal?: string | undefined;
  readonly children: ReactNode;
}

export function Button({ look = 'plain', refusal, className = '', children, ...rest }: Props) {
  return (
    <button
      type="button"
      {...rest}
      title={refusal ?? rest.title}
      aria-disabled={refusal ? true : undefined}
      onClick={refusal ? (event) => event.preventDefault() : rest.onClick}
      className={`inline-flex items-center gap-1.5 rounded border px-2.5 py-1 whitespace-nowrap ${LOOKS[look]} ${refusal ? 'cursor-not-allowed opacity-60' : ''} ${className}`}
    >
      {children}
    </button>
  );
}

export function Key({ children }: { readonly children: ReactNode }) {
  return (
    <kbd className="rounded-[3px] border border-b-2 border-rule-strong bg-sheet px-1 py-0.5 font-mono text-[11px] leading-none font-semibold text-ink-2">
      {children}
    </kbd>
  );
}

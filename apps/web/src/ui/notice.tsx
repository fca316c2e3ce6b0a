import type { ReactNode } from 'react';

const LOOKS = {
  plain: 'border-rule-strong bg-sunk',
  stop: 'border-stop bg-stop-soft',
  go: 'border-go bg-go-soft',
} as const;

/** A statement that stands where it matters: what happened, what was kept, what to do. */
export function Notice({
  look = 'plain',
  children,
}: {
  readonly look?: keyof typeof LOOKS;
  readonly children: ReactNode;
}) {
  return (
    <div
      role={look === 'stop' ? 'alert' : 'status'}
      className={`border-l-4 px-3 py-2 text-[13px] ${LOOKS[look]}`}
    >
      {children}
    </div>
  );
}

/** What belongs in an empty place, and the first step. */
export function Empty({ title, children }: { readonly title: string; readonly children?: ReactNode }) {
  return (
    <div className="mx-auto max-w-md px-6 py-12 text-center">
      <p className="mb-2 font-semibold">{title}</p>
      <div className="text-ink-2">{children}</div>
    </div>
  );
}

export function Loading({ what }: { readonly what: string }) {
  return (
    <p role="status" className="px-6 py-8 text-ink-2">
      Loading {what} …
    </p>
  );
}

import { type Severity, SEVERITIES } from '@lantern/core/policy';

/** One to four ticks beside the word, for the eye. */
export function SeverityTicks({ severity }: { readonly severity: Severity }) {
  const filled = SEVERITIES.indexOf(severity) + 1;
  return (
    <span aria-hidden className="mr-1.5 inline-flex gap-0.5 align-[-1px]">
      {SEVERITIES.map((each, index) => (
        <i
          key={each}
          className={`h-[11px] w-[3px] ${index < filled ? (severity === 'critical' ? 'bg-stop' : 'bg-ink') : 'bg-rule-strong'}`}
        />
      ))}
    </span>
  );
}

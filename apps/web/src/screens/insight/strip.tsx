const STRIP = { width: 160, height: 18 } as const;

/** The counts of one value over time, each strip on a scale of its own; the row has the sum. */
export function Strip({
  counts,
  spikes,
}: {
  readonly counts: readonly number[];
  readonly spikes: readonly number[];
}) {
  const most = Math.max(1, ...counts);
  const width = STRIP.width / Math.max(1, counts.length);
  return (
    <svg {...STRIP} aria-hidden className="block">
      <line x1={0} x2={STRIP.width} y1={17.5} y2={17.5} className="stroke-rule" />
      {counts.map((value, at) => {
        const height = value === 0 ? 0 : Math.max(1, (value / most) * 16);
        return (
          <rect
            key={at}
            x={at * width + width * 0.12}
            width={width * 0.76}
            y={17 - height}
            height={height}
            className={spikes.includes(at) ? 'fill-ink' : 'fill-rule-strong'}
          />
        );
      })}
    </svg>
  );
}

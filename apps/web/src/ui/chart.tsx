import type { EChartsCoreOption, EChartsType } from 'echarts/core';
import { useEffect, useRef } from 'react';

interface Props {
  readonly option: EChartsCoreOption;
  /** Height in pixels. */
  readonly height: number;
  /** What it shows, for those who cannot see it; a table stands beside it. */
  readonly label: string;
  readonly onPress?: (data: unknown) => void;
  /** The stretch that was zoomed to, as parts of the whole, 0 to 100. */
  readonly onZoom?: (from: number, to: number) => void;
}

/** Apache ECharts, loaded when the first chart is drawn. */
const loaded = () => import('./echarts-parts').then(({ echarts }) => echarts);

export function Chart({ option, height, label, onPress, onZoom }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const chart = useRef<EChartsType | null>(null);
  const latest = useRef({ option, onPress, onZoom });
  latest.current = { option, onPress, onZoom };
  useEffect(() => {
    let gone = false;
    let observer: ResizeObserver | undefined;
    void loaded().then((echarts) => {
      if (gone || !frame.current) return;
      const made = echarts.init(frame.current, null, { renderer: 'svg' });
      chart.current = made;
      made.setOption(latest.current.option, true);
      made.on('click', (event) => latest.current.onPress?.(event.data));
      made.on('datazoom', (event) => {
        const { start, end } = zoomOf(event);
        if (start !== undefined && end !== undefined) latest.current.onZoom?.(start, end);
      });
      observer = new ResizeObserver(() => made.resize());
      observer.observe(frame.current);
    });
    return () => {
      gone = true;
      observer?.disconnect();
      chart.current?.dispose();
      chart.current = null;
    };
  }, []);
  useEffect(() => chart.current?.setOption(option, true), [option]);
  return <div ref={frame} role="img" aria-label={label} style={{ height }} className="w-full" />;
}

function zoomOf(event: unknown): { readonly start?: number; readonly end?: number } {
  const zoom = event as { start?: number; end?: number; batch?: readonly { start?: number; end?: number }[] };
  return zoom.batch?.[0] ?? zoom;
}

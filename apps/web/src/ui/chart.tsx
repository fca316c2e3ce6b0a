import type { EChartsCoreOption, EChartsType } from 'echarts/core';
import { type KeyboardEvent, type PointerEvent, type RefObject, useEffect, useRef, useState } from 'react';

interface Props {
  readonly option: EChartsCoreOption;
  /** Height in pixels. */
  readonly height: number;
  /** What it shows, for those who cannot see it; a table stands beside it. */
  readonly label: string;
  readonly onPress?: (data: unknown) => void;
  /** The stretch that was zoomed to, as parts of the whole, 0 to 100. */
  readonly onZoom?: (from: number, to: number) => void;
  /** Places of a category axis: they can be reached by the arrow keys, pressed, and dragged over. */
  readonly places?: Places;
}

export interface Places {
  readonly count: number;
  readonly onPress: (place: number) => void;
  /** Dragged over, the first and the last place included. */
  readonly onDrag: (from: number, to: number) => void;
}

/** Apache ECharts, loaded when the first chart is drawn. */
const loaded = () => import('./echarts-parts').then(({ echarts }) => echarts);

/** A movement of the pointer that is shorter, in pixels, is a press. */
const LEAST_DRAG = 6;

export function Chart({ option, height, label, onPress, onZoom, places }: Props) {
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
  const plain = <div ref={frame} role="img" aria-label={label} style={{ height }} className="w-full" />;
  return places ? (
    <PlacesFrame chart={chart} places={places} label={label}>
      {plain}
    </PlacesFrame>
  ) : (
    plain
  );
}

interface FrameProps {
  readonly chart: RefObject<EChartsType | null>;
  readonly places: Places;
  readonly label: string;
  readonly children: React.ReactNode;
}

/** Arrow keys go from place to place, Enter presses, a drag chooses several. */
function PlacesFrame({ chart, places, label, children }: FrameProps) {
  const begun = useRef<{ readonly x: number; readonly place: number } | null>(null);
  const [drag, setDrag] = useState<{ readonly left: number; readonly width: number } | null>(null);
  const focused = useRef<number | null>(null);
  const placeAt = (event: PointerEvent): { readonly x: number; readonly place: number } | null => {
    const box = event.currentTarget.getBoundingClientRect();
    const x = event.clientX - box.left;
    const at = chart.current?.convertFromPixel({ xAxisIndex: 0 }, x);
    const place = typeof at === 'number' ? at : NaN;
    if (Number.isNaN(place)) return null;
    return { x, place: Math.max(0, Math.min(places.count - 1, place)) };
  };
  const focus = (place: number) => {
    focused.current = Math.max(0, Math.min(places.count - 1, place));
    chart.current?.dispatchAction({ type: 'showTip', seriesIndex: 0, dataIndex: focused.current });
  };
  const onKey = (event: KeyboardEvent) => {
    const at = focused.current ?? -1;
    if (event.key === 'ArrowRight') focus(at + 1);
    else if (event.key === 'ArrowLeft') focus(at === -1 ? places.count - 1 : at - 1);
    else if (event.key === 'Home') focus(0);
    else if (event.key === 'End') focus(places.count - 1);
    else if (event.key === 'Enter' && focused.current !== null) places.onPress(focused.current);
    else return;
    event.preventDefault();
  };
  const end = (event: PointerEvent) => {
    const from = begun.current;
    const to = placeAt(event);
    begun.current = null;
    setDrag(null);
    if (!from || !to) return;
    if (Math.abs(to.x - from.x) < LEAST_DRAG) places.onPress(to.place);
    else places.onDrag(Math.min(from.place, to.place), Math.max(from.place, to.place));
  };
  return (
    <div
      role="application"
      aria-label={`${label} Arrow keys go from bar to bar, Enter opens what a bar counts.`}
      tabIndex={0}
      className="relative cursor-pointer touch-none select-none"
      onKeyDown={onKey}
      onBlur={() => chart.current?.dispatchAction({ type: 'hideTip' })}
      onPointerDown={(event) => {
        begun.current = event.button === 0 ? placeAt(event) : null;
      }}
      onPointerMove={(event) => {
        const from = begun.current;
        const now = from && placeAt(event);
        if (from && now && Math.abs(now.x - from.x) >= LEAST_DRAG)
          setDrag({ left: Math.min(from.x, now.x), width: Math.abs(now.x - from.x) });
      }}
      onPointerUp={end}
      onPointerLeave={() => {
        begun.current = null;
        setDrag(null);
      }}
    >
      {children}
      {drag && (
        <div
          aria-hidden
          className="pointer-events-none absolute inset-y-0 border-x border-press bg-press-soft opacity-50"
          style={drag}
        />
      )}
    </div>
  );
}

function zoomOf(event: unknown): { readonly start?: number; readonly end?: number } {
  const zoom = event as { start?: number; end?: number; batch?: readonly { start?: number; end?: number }[] };
  return zoom.batch?.[0] ?? zoom;
}

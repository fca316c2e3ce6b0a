import { AROUND, type Around, type AroundMark, type IncidentDetail } from '@lantern/contracts';
import { deskPath } from '@lantern/core/incidents';
import { CHANNELS } from '@lantern/core/movement';
import { SEVERITIES } from '@lantern/core/policy';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { useAround } from '../../../data/desk';
import { Button } from '../../../ui/button';
import { Chart } from '../../../ui/chart';
import { colourOf } from '../../../ui/colours';
import { Loading, Notice } from '../../../ui/notice';
import { errorSentence } from '../../../wording/errors';
import { ANSWER_DONE, CHANNEL_WORDS } from '../../../wording/terms';
import { exactTime } from '../../../wording/times';
import { Remarks } from './remarks';
import { type Span, spanAround, SPANS, zoomed } from './span';

const ABOUT_WORDS: Readonly<Record<Around, string>> = {
  person: 'This person',
  machine: 'This machine',
  destination: 'This destination',
  content: 'This content',
};
/** Rows of the table below the chart; all of them are one link away. */
const SHOWN = 100;
/** A zoom is fetched so long after the last movement of the mouse. */
const ZOOMED_MS = 500;

/** What surrounds an incident, over a freely chosen stretch of time; every mark opens. */
export function AroundIncident({ incident }: { readonly incident: IncidentDetail }) {
  const [about, setAbout] = useState<Around>('person');
  const [span, setSpan] = useState<Span>(() => spanAround(incident.at, 'month', Date.now()));
  const around = useAround(incident.number, about, span);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(timer.current), []);
  const onZoom = (from: number, to: number) => {
    clearTimeout(timer.current);
    timer.current = setTimeout(() => setSpan(zoomed(span, from, to)), ZOOMED_MS);
  };
  return (
    <section aria-label="Around" className="px-5 py-3.5">
      <Remarks incident={incident} />
      <div className="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1.5">
        <div role="group" aria-label="About" className="flex gap-1">
          {AROUND.map((each) => (
            <button
              key={each}
              type="button"
              aria-pressed={about === each}
              className={`border-b-2 px-1.5 ${about === each ? 'border-ink font-semibold' : 'border-transparent text-ink-2 hover:border-rule-strong'}`}
              onClick={() => setAbout(each)}
            >
              {ABOUT_WORDS[each]}
            </button>
          ))}
        </div>
        <div role="group" aria-label="Time span" className="ml-auto flex gap-1">
          {Object.entries(SPANS).map(([name, { words }]) => (
            <Button
              key={name}
              look="quiet"
              className="!px-1.5 !py-0.5 text-[12.5px]"
              onClick={() => setSpan(spanAround(incident.at, name as keyof typeof SPANS, Date.now()))}
            >
              {words}
            </Button>
          ))}
        </div>
      </div>
      {around.isError && <Notice look="stop">{errorSentence(around.error)}</Notice>}
      {!around.data && !around.isError && <Loading what="what surrounds it" />}
      {around.data?.value === null && (
        <p className="text-ink-2">This incident has no {about} to look around.</p>
      )}
      {around.data && around.data.value !== null && (
        <>
          <p role="status" className="text-[12.5px] text-ink-2">
            <b className="text-ink">{about === 'content' ? 'The same content' : around.data.value}</b>:{' '}
            {around.data.movements.toLocaleString('en-GB')} movements,{' '}
            {around.data.incidents.toLocaleString('en-GB')} incidents from {dayTime(around.data.from)} to{' '}
            {dayTime(around.data.to)}.{' '}
            {around.data.filter !== '' && (
              <Link className="part" to={deskPath(around.data.filter, 'movements')}>
                List them
              </Link>
            )}
          </p>
          <TimeLine view={around.data} own={incident.number} onZoom={onZoom} />
          <Marks marks={around.data.marks} own={incident.number} />
        </>
      )}
    </section>
  );
}

const dayTime = (iso: string): string =>
  new Date(iso).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });

const LANES = [...CHANNELS, 'other'] as const;
/** Pixels for the longest name of a lane. With less, the chart would move the lanes and not the bars below them. */
const LANE_NAMES = 128;
const laneOf = (mark: AroundMark): string => (mark.kind === 'movement' ? mark.channel : 'other');

function TimeLine({
  view,
  own,
  onZoom,
}: {
  readonly view: NonNullable<ReturnType<typeof useAround>['data']>;
  readonly own: number;
  readonly onZoom: (from: number, to: number) => void;
}) {
  const navigate = useNavigate();
  const option = useMemo(() => {
    const [ink, dim, rule, stop, press, soft] = [
      ...['ink', 'ink-2', 'rule', 'stop', 'press', 'press-soft'].map(colourOf),
    ];
    const lanes = LANES.filter(
      (lane) => lane === 'other' || view.marks.some((mark) => laneOf(mark) === lane),
    );
    const axis = { axisLine: { lineStyle: { color: rule } }, axisLabel: { color: dim, fontSize: 11 } };
    return {
      animation: false,
      grid: [
        { left: LANE_NAMES, right: 12, top: 8, height: 26 * lanes.length },
        { left: LANE_NAMES, right: 12, top: 26 * lanes.length + 18, height: 44 },
      ],
      tooltip: {
        trigger: 'item',
        confine: true,
        // Titles are somebody's words: as text, never as markup.
        formatter: ({ data }: { data: { words?: string } }) => escaped(data.words ?? ''),
      },
      xAxis: [
        { type: 'time', gridIndex: 0, min: view.from, max: view.to, ...axis, axisLabel: { show: false } },
        { type: 'time', gridIndex: 1, min: view.from, max: view.to, containShape: false, ...axis },
      ],
      yAxis: [
        {
          type: 'category',
          gridIndex: 0,
          data: lanes.map((lane) => (lane === 'other' ? 'replies, other' : CHANNEL_WORDS[lane])),
          ...axis,
          splitLine: { show: true, lineStyle: { color: rule } },
        },
        { type: 'value', gridIndex: 1, ...axis, splitLine: { show: false }, splitNumber: 2, minInterval: 1 },
      ],
      dataZoom: [
        { type: 'inside', xAxisIndex: [0, 1] },
        {
          type: 'slider',
          xAxisIndex: [0, 1],
          bottom: 6,
          height: 14,
          showDetail: false,
          showDataShadow: false,
          borderColor: rule,
          backgroundColor: 'transparent',
          fillerColor: soft,
          handleStyle: { color: press },
          moveHandleStyle: { color: rule },
        },
      ],
      series: [
        {
          type: 'scatter',
          data: view.marks.map((mark) => ({
            value: [mark.at, lanes.findIndex((lane) => lane === laneOf(mark))],
            words: markWords(mark),
            incident: 'incident' in mark ? mark.incident : null,
            ...looks(mark, own, { ink, dim, stop, press } as Record<
              'ink' | 'dim' | 'stop' | 'press',
              string
            >),
          })),
        },
        {
          type: 'bar',
          xAxisIndex: 1,
          yAxisIndex: 1,
          barWidth: 3,
          data: view.counts.map(({ at, movements, incidents }) => ({
            value: [at, movements],
            words: `${movements} movements, ${incidents} incidents`,
          })),
          itemStyle: { color: dim },
        },
      ],
    };
  }, [view, own]);
  const lanes = LANES.filter(
    (lane) => lane === 'other' || view.marks.some((mark) => laneOf(mark) === lane),
  ).length;
  return (
    <Chart
      option={option}
      height={26 * lanes + 122}
      label={`Time line of ${view.value ?? ''}: ${view.movements} movements and ${view.incidents} incidents. The table below lists them.`}
      onPress={(data) => {
        const number = (data as { incident?: number | null }).incident;
        if (number) void navigate({ pathname: `/incidents/${number}`, search: window.location.search });
      }}
      onZoom={onZoom}
    />
  );
}

const escaped = (text: string): string =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;');

/** Shape says what became of it, size how severe it is; colour comes second. */
function looks(
  mark: AroundMark,
  own: number,
  colours: Readonly<Record<'ink' | 'dim' | 'stop' | 'press', string>>,
): object {
  if (mark.kind !== 'movement')
    return { symbol: 'triangle', symbolSize: 9, itemStyle: { color: colours.press } };
  if (mark.incident === null) return { symbol: 'circle', symbolSize: 4, itemStyle: { color: colours.dim } };
  const size = 8 + 3 * SEVERITIES.indexOf(mark.severity ?? 'low');
  const symbol = mark.answer === 'block' || mark.answer === 'hold' ? 'rect' : 'diamond';
  return {
    symbol,
    symbolSize: mark.incident === own ? size + 6 : size,
    itemStyle: {
      color: mark.answer === 'block' ? colours.stop : colours.ink,
      ...(mark.incident === own ? { borderColor: colours.press, borderWidth: 3 } : {}),
    },
  };
}

function markWords(mark: AroundMark): string {
  const at = dayTime(mark.at);
  switch (mark.kind) {
    case 'movement':
      return `${at}: ${mark.person}, ${CHANNEL_WORDS[mark.channel]}${mark.destination ? ` to ${mark.destination}` : ''}${mark.answer ? `, ${ANSWER_DONE[mark.answer]}` : ''}${mark.title ? ` – ${mark.title}` : ''}`;
    case 'label':
      return `${at}: label of ${mark.item} changed from ${mark.before ?? 'none'} to ${mark.after ?? 'none'}`;
    case 'picture':
      return `${at}: picture of the screen`;
    case 'reply':
    case 'override':
      return `${at}: ${mark.by}: ${mark.text}`;
  }
}

/** The marks as a table, the nearest to now first. */
function Marks({ marks, own }: { readonly marks: readonly AroundMark[]; readonly own: number }) {
  const newest = [...marks].reverse().slice(0, SHOWN);
  return (
    <details className="mt-2">
      <summary className="cursor-pointer text-[12.5px] text-press">As a table</summary>
      <table className="mt-1 w-full text-[12.5px]">
        <thead>
          <tr className="border-b border-rule text-left text-ink-2">
            <th className="font-normal">Time</th>
            <th className="font-normal">What</th>
            <th className="font-normal">Incident</th>
          </tr>
        </thead>
        <tbody>
          {newest.map((mark, at) => {
            const incident = 'incident' in mark ? mark.incident : null;
            return (
              <tr
                key={`${mark.at} ${at}`}
                className={`border-b border-dotted border-rule ${incident === own ? 'font-semibold' : ''}`}
              >
                <td className="pr-3 whitespace-nowrap" title={exactTime(mark.at)}>
                  {dayTime(mark.at)}
                </td>
                <td>{markWords(mark).slice(dayTime(mark.at).length + 2)}</td>
                <td>
                  {incident !== null && (
                    <Link className="part" to={`/incidents/${incident}`}>
                      {incident}
                    </Link>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {marks.length > SHOWN && (
        <p className="text-[12.5px] text-ink-2">
          The newest {SHOWN} of {marks.length} are shown.
        </p>
      )}
    </details>
  );
}

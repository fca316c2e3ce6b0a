import type { ChangesView } from '@lantern/contracts/insight';
import { behind } from '@lantern/core/insight';
import { deskPath, printFilter } from '@lantern/core/incidents';
import { format } from 'date-fns';
import { useMemo } from 'react';
import { useNavigate } from 'react-router';
import type { PeriodAsked } from '../../../data/insight';
import { filterOf } from '../../../shared/filter/filter-of';
import { Chart } from '../../../ui/chart';
import { colourOf } from '../../../ui/colours';
import { LISTED_WORDS, valueWords } from '../../../wording/desk';
import { bucketWords, count } from '../../../wording/insight';
import { type InsightState, periodBetween } from '../insight-state';

interface Props {
  readonly view: ChangesView;
  readonly state: InsightState;
  readonly asked: PeriodAsked;
  readonly onChange: (changed: Partial<InsightState>) => void;
}

const FONT = 'Atkinson Hyperlegible Next Variable';
const HEIGHT = 210;

/** Counts over time; what stands out is darker and named. */
export function TimeChart({ view, state, asked, onChange }: Props) {
  const navigate = useNavigate();
  const option = useMemo(() => optionOf(view, state), [view, state]);
  const [total] = view.series;
  const open = (place: number) => {
    const bucket = view.buckets[place];
    if (!bucket) return;
    const period = { from: Date.parse(bucket.from), to: Date.parse(bucket.to) };
    void navigate(deskPath(printFilter(behind(filterOf(view.filter), period)), state.listed));
  };
  return (
    <figure>
      <Chart
        option={option}
        height={HEIGHT}
        label={`${LISTED_WORDS[state.listed]} over time: ${count(total?.count ?? 0)} in ${view.buckets.length} bars. The table has the same figures.`}
        places={{
          count: view.buckets.length,
          onPress: open,
          onDrag: (first, last) => {
            const [from, to] = [view.buckets[first]?.from, view.buckets[last]?.to];
            if (from && to) onChange({ period: periodBetween(new Date(from), new Date(to)) });
          },
        }}
      />
      <figcaption className="text-[12px] text-ink-2">
        A bar opens what it counts. Drag over bars to choose a shorter period. Days begin at midnight in{' '}
        {asked.zone.replace('_', ' ')}. Our own tests are not counted.
      </figcaption>
    </figure>
  );
}

function optionOf(view: ChangesView, state: InsightState) {
  const [ink, dim, rule, strong] = ['ink', 'ink-2', 'rule', 'rule-strong'].map(colourOf);
  const text = { color: dim, fontSize: 11, fontFamily: FONT };
  const [total] = view.series;
  const spikes = new Set(view.spikes.map(({ bucket }) => bucket));
  return {
    animation: false,
    textStyle: { fontFamily: FONT },
    grid: { left: 44, right: 12, top: 18, bottom: 24 },
    tooltip: {
      trigger: 'axis',
      confine: true,
      textStyle: { fontSize: 12 },
      // Values are somebody's words: as text, never as markup.
      formatter: (marks: readonly { dataIndex: number }[]) =>
        escaped(tipOf(view, state, marks[0]?.dataIndex ?? 0)).replaceAll('\n', '<br>'),
    },
    xAxis: {
      type: 'category',
      data: view.buckets.map(({ from }) => shortName(from, view.grain)),
      axisLine: { lineStyle: { color: strong } },
      axisTick: { show: false },
      axisLabel: text,
    },
    yAxis: {
      type: 'value',
      minInterval: 1,
      splitNumber: 3,
      axisLabel: text,
      splitLine: { lineStyle: { color: rule } },
    },
    series: [
      {
        type: 'bar',
        barCategoryGap: '25%',
        data: (total?.counts ?? []).map((value, bucket) => ({
          value,
          itemStyle: { color: spikes.has(bucket) ? ink : strong },
          label: {
            show: spikes.has(bucket),
            position: 'top',
            formatter: `▲ ${count(value)}`,
            color: ink,
            fontSize: 11,
          },
        })),
      },
    ],
  };
}

function tipOf(view: ChangesView, state: InsightState, place: number): string {
  const bucket = view.buckets[place];
  if (!bucket) return '';
  const [total, ...values] = view.series;
  const lines = values
    .filter(({ counts }) => counts.length > 0 && (counts[place] ?? 0) > 0)
    .map(
      ({ value, counts }) =>
        `${value ? valueWords(state.by ?? 'rule', value.value, value.label) : ''}: ${count(counts[place] ?? 0)}`,
    );
  return [
    `${bucketWords(bucket.from, bucket.to, view.grain)}: ${count(total?.counts[place] ?? 0)}`,
    ...lines,
  ].join('\n');
}

function shortName(from: string, grain: ChangesView['grain']): string {
  const at = new Date(from);
  if (grain === 'hour') return format(at, 'EEE HH:mm');
  return grain === 'month' ? format(at, 'MMM yy') : format(at, 'EEEEEE d MMM');
}

const escaped = (text: string): string =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;');

import type { FigureCode } from '@lantern/contracts/insight';
import { allOf, fieldsIn, type Filter, type Listed, printFilter } from '@lantern/core/incidents';
import { behind, type Period, type Slice } from '@lantern/core/insight';
import { Injectable } from '@nestjs/common';
import { Queue } from '../../incidents/queue/queue.service.js';

const NO_TESTS: Filter = { kind: 'compare', field: 'test', operator: 'eq', value: false };

/** What each figure counts. */
export const FIGURE_FILTERS: Readonly<
  Record<FigureCode, { readonly listed: Listed; readonly filter: Filter }>
> = {
  incidents: { listed: 'incidents', filter: allOf([]) },
  matches: { listed: 'matches', filter: allOf([]) },
  movements: { listed: 'movements', filter: allOf([]) },
  overrides: { listed: 'incidents', filter: { kind: 'present', field: 'override' } },
  replies: { listed: 'incidents', filter: { kind: 'present', field: 'reply' } },
  'false-positives': {
    listed: 'incidents',
    filter: { kind: 'compare', field: 'outcome', operator: 'eq', value: 'false-positive' },
  },
  harm: {
    listed: 'incidents',
    filter: { kind: 'compare', field: 'outcome', operator: 'eq', value: 'harm' },
  },
};

/** Reads the filters of Insight, and writes those that show what a figure counts. */
@Injectable()
export class Reading {
  constructor(private readonly queue: Queue) {}

  /** A filter line; our own tests are kept out unless it speaks of them. Throws `bad-filter`. */
  filter(line: string | undefined): Filter {
    const filter = this.queue.read(line);
    return fieldsIn(filter).includes('test') ? filter : allOf([filter, NO_TESTS]);
  }

  /** The line that shows what is counted. */
  line(filter: Filter, period: Period, slice?: Slice): string {
    return printFilter(behind(filter, period, slice));
  }
}

import {
  type AroundMark,
  type AroundQuery,
  type AroundView,
  MAX_AROUND_DAYS,
  type RemarksView,
} from '@lantern/contracts';
import { domainOf } from '@lantern/core/directory';
import { type PastMovement, remarksOn } from '@lantern/core/incidents';
import { spotName } from '@lantern/core/movement';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { Between, type EntityManager, In } from 'typeorm';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { HistoryEntity, IncidentEntity, MatchEntity, MovementEntity } from '../incident.entity.js';
import { destinationsOf } from '../incident.mapper.js';
import { KeptPicturesEntity } from '../kept/kept.entity.js';
import type { Sight } from '../../platform/auth/sight.js';
import { only } from '../queue/rows.js';
import { incidentOfMovement, visibleAmong, visibleIncidents, visibleMovements } from '../visible.js';
import { openTitle } from '../titles.js';
import { movementKeys } from '../../platform/keys/movement-keys.js';

const DAY_MS = 86_400_000;
/** Movements marked one by one; beyond that only those with incidents are, and all are counted. */
const MOST_MARKS = 1_500;
/** Stretches that a time line is counted in. */
const STRETCHES = 120;
/** How far the usual is looked for. */
const USUAL_DAYS = 84;
/** Movements of a person that the usual is computed from. */
const MOST_PAST = 20_000;

export interface Span {
  readonly from: Date;
  readonly to: Date;
}

/** Marks of one person over a span, 1,500 at most. */
export type BesideSource = (address: string, span: Span) => Promise<AroundMark[]>;

/** What surrounds an incident: the same person, machine, destination or content over a stretch of time. */
@Injectable()
export class Surroundings {
  private readonly sources: BesideSource[] = [];

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  /** Another domain shows what a person did beside moving data. */
  alsoShow(source: BesideSource): void {
    this.sources.push(source);
  }

  async around(query: AroundQuery, sight: Sight): Promise<AroundView> {
    const from = new Date(query.from);
    const to = new Date(query.to);
    if (!(to > from) || to.getTime() - from.getTime() > MAX_AROUND_DAYS * DAY_MS)
      throw new AppError('invalid-request', `A time line covers a year at most, and ends after it begins.`);
    const movement = await this.find(query.incident, sight);
    const about = whereOf(query.about, movement);
    const span = `at ge "${from.toISOString()}" and at le "${to.toISOString()}"`.replaceAll('at ', 'time ');
    if (!about)
      return {
        ...{ value: null, from: from.toISOString(), to: to.toISOString(), movements: 0, incidents: 0 },
        ...{ marks: [], counts: [], filter: '' },
      };
    const [all, beside] = await Promise.all([
      this.movements(about, { from, to }, { sight, onlyIncidents: false }),
      query.about === 'person' ? this.beside(movement.personAddress, { from, to }) : [],
    ]);
    const isMore = all.length > MOST_MARKS;
    const [counts, shown] = isMore
      ? await Promise.all([
          this.counts(about, { from, to }, sight),
          this.movements(about, { from, to }, { sight, onlyIncidents: true }),
        ])
      : [countsOf(all, { from, to }), all];
    const movements = counts.reduce((sum, one) => sum + one.movements, 0);
    const incidents = counts.reduce((sum, one) => sum + one.incidents, 0);
    const marks = [...shown, ...beside];
    const [replies, pictures] = await Promise.all([
      this.replies(
        shown.flatMap((mark) => (mark.kind === 'movement' && mark.incident !== null ? [mark.incident] : [])),
      ),
      this.pictures(shown),
    ]);
    return {
      value: about.value,
      from: from.toISOString(),
      to: to.toISOString(),
      movements,
      incidents,
      marks: [...marks, ...replies, ...pictures].sort((one, other) =>
        one.at < other.at ? -1 : Number(one.at > other.at),
      ),
      counts,
      filter: about.line ? `${about.line} and ${span}` : '',
    };
  }

  /** Sentences against what the person usually does, as codes. */
  async remarks(number: number, sight: Sight): Promise<RemarksView> {
    const movement = await this.find(number, sight);
    const from = new Date(movement.at.getTime() - USUAL_DAYS * DAY_MS);
    const past = await this.manager.find(MovementEntity, {
      where: { personAddress: movement.personAddress, at: Between(from, movement.at), test: false },
      select: only(['id', 'at', 'channel', 'recipients', 'way', 'incidentNumber', 'answer']),
      order: { at: 'DESC' },
      take: MOST_PAST,
    });
    const numbers = past.flatMap(({ incidentNumber }) => (incidentNumber === null ? [] : [incidentNumber]));
    const visible = await visibleAmong(this.manager, [...numbers, number], sight);
    const incidents = await this.manager.find(IncidentEntity, {
      where: { number: In([...visible]) },
      select: only(['number', 'counts']),
    });
    const matches = await this.manager.find(MatchEntity, {
      where: {
        incidentNumber: In(incidents.map((one) => one.number)),
        ...(sight.silent ? {} : { silent: false }),
      },
      select: only(['incidentNumber', 'ruleId', 'id']),
    });
    const counts = new Map(incidents.map((one) => [one.number, one.counts]));
    const rules = new Map<number, string[]>();
    for (const { incidentNumber, ruleId } of matches)
      if (ruleId) rules.set(incidentNumber, [...(rules.get(incidentNumber) ?? []), ruleId]);
    const facts = (
      one: Pick<MovementEntity, 'at' | 'channel' | 'recipients' | 'way' | 'incidentNumber'>,
    ): PastMovement => {
      const known = one.incidentNumber === null ? undefined : counts.get(one.incidentNumber);
      return {
        at: one.at.getTime(),
        channel: one.channel,
        domains: [...new Set(one.recipients.map(({ address }) => domainOf(address)).filter(Boolean))],
        incident: known !== undefined,
        rules: one.incidentNumber === null ? [] : (rules.get(one.incidentNumber) ?? []),
        values: (known ?? []).reduce((sum, { distinct }) => sum + distinct, 0),
      };
    };
    const since = await this.since(from);
    const others = past.filter(({ id }) => id !== movement.id);
    return {
      remarks: remarksOn(facts({ ...movement, incidentNumber: number }), others.map(facts), since),
      since: new Date(since).toISOString(),
    };
  }

  /** Time of the first known movement: a new workbench must not make everybody look new. */
  private async since(from: Date): Promise<number> {
    const [row] = await this.manager.query<{ first: Date | null }[]>('SELECT MIN(at) AS first FROM movement');
    return Math.max(from.getTime(), row?.first ? new Date(row.first).getTime() : 0);
  }

  /** The movement of an incident; throws `not-found` for one that the viewer may not see. */
  private async find(number: number, sight: Sight): Promise<Found> {
    const visible = visibleIncidents(sight);
    const [row] = await this.manager.query<FoundRow[]>(
      `SELECT m.id, m.at, m.channel, m.personAddress, m.personName, m.machine, m.contentDigest, m.recipients, m.way
       FROM incident i JOIN movement m ON m.id = i.movementId WHERE i.number = ? AND ${visible.sql}`,
      [number, ...visible.values],
    );
    if (!row) throw new AppError('not-found', `There is no incident ${number}.`);
    return { ...row, recipients: parsed(row.recipients) ?? [], way: parsed(row.way) };
  }

  private async counts(about: About, span: Span, sight: Sight): Promise<AroundView['counts']> {
    const width = widthOf(span);
    const visible = visibleMovements(sight);
    const rows = await this.manager.query<{ stretch: string; movements: string; incidents: string }[]>(
      `SELECT FLOOR(TIMESTAMPDIFF(MICROSECOND, ?, m.at) / 1000 / ?) AS stretch, COUNT(*) AS movements,
         SUM(i.number IS NOT NULL) AS incidents
       FROM movement m LEFT JOIN incident i ON ${incidentOfMovement(sight)}
       WHERE ${about.sql} AND ${visible.sql} AND m.at BETWEEN ? AND ? GROUP BY stretch ORDER BY stretch`,
      [span.from, width, ...about.values, ...visible.values, span.from, span.to],
    );
    return rows.map(({ stretch, movements, incidents }) => ({
      at: new Date(span.from.getTime() + Number(stretch) * width).toISOString(),
      movements: Number(movements),
      incidents: Number(incidents ?? 0),
    }));
  }

  private async movements(
    about: About,
    span: Span,
    { sight, onlyIncidents }: { readonly sight: Sight; readonly onlyIncidents: boolean },
  ): Promise<AroundMark[]> {
    const within = visibleMovements(sight);
    const rows = await this.manager.query<MarkRow[]>(
      `SELECT m.id, m.at, m.channel, m.answer, m.personName, m.title, m.recipients, m.way,
         i.number, i.severity, i.openSeverity, i.openAnswer
       FROM movement m LEFT JOIN incident i ON ${incidentOfMovement(sight)}
       WHERE ${about.sql} AND ${within.sql} AND m.at BETWEEN ? AND ?
       ${onlyIncidents ? 'AND m.incidentNumber IS NOT NULL' : ''} ORDER BY m.at DESC LIMIT ${onlyIncidents ? MOST_MARKS : MOST_MARKS + 1}`,
      [...about.values, ...within.values, span.from, span.to],
    );
    const keyOf = await movementKeys(
      this.manager,
      this.config.keys,
      rows.flatMap(({ id, title }) => (title ? [id] : [])),
    );
    const titled = rows.filter(({ title }) => title);
    const titles = new Map(
      await Promise.all(titled.map(async (row) => [row.id, await openTitle(keyOf(row.id), row)] as const)),
    );
    return rows.map((row): AroundMark => {
      const { id, at, channel, number, severity, openSeverity, openAnswer } = row;
      const isSeen = number !== null;
      return {
        ...{ kind: 'movement', id, at: at.toISOString(), channel, incident: number },
        answer: isSeen ? (sight.silent ? row.answer : openAnswer) : null,
        severity: isSeen ? (sight.silent ? severity : openSeverity) : null,
        person: row.personName,
        title: titles.get(id) ?? null,
        destination:
          destinationsOf({ recipients: parsed(row.recipients) ?? [], way: parsed(row.way) })[0] ?? null,
      };
    });
  }

  private async beside(address: string, span: Span): Promise<AroundMark[]> {
    return (await Promise.all(this.sources.map((source) => source(address, span)))).flat();
  }

  /** Pictures of the screen at the instants when they were taken. */
  private async pictures(marks: readonly AroundMark[]): Promise<AroundMark[]> {
    const incidents = new Map(
      marks.flatMap((mark) =>
        mark.kind === 'movement' && mark.incident !== null ? [[mark.id, mark.incident] as const] : [],
      ),
    );
    if (incidents.size === 0) return [];
    const kept = await this.manager.find(KeptPicturesEntity, {
      where: { movementId: In([...incidents.keys()]) },
      select: { movementId: true, taken: true },
    });
    return kept.flatMap(({ movementId, taken }) =>
      taken.map((at) => ({ kind: 'picture' as const, at, incident: incidents.get(movementId) ?? 0 })),
    );
  }

  private async replies(numbers: readonly number[]): Promise<AroundMark[]> {
    if (numbers.length === 0) return [];
    const entries = await this.manager.find(HistoryEntity, {
      where: { incidentNumber: In([...numbers]), kind: In(['reply', 'override']) },
      order: { id: 'ASC' },
      take: MOST_MARKS,
    });
    return entries.map((entry) => ({
      kind: entry.kind === 'reply' ? 'reply' : 'override',
      at: entry.at.toISOString(),
      incident: entry.incidentNumber,
      by: entry.actor,
      text: entry.text ?? '',
    }));
  }
}

/** What a time line is drawn around. */
type Found = Pick<
  MovementEntity,
  | 'id'
  | 'at'
  | 'channel'
  | 'personAddress'
  | 'personName'
  | 'machine'
  | 'contentDigest'
  | 'recipients'
  | 'way'
>;
type FoundRow = Omit<Found, 'recipients' | 'way'> & Record<'recipients' | 'way', unknown>;

/** A movement with what is shown of its incident; null where it has none that the viewer may see. */
type MarkRow = Pick<MovementEntity, 'id' | 'at' | 'channel' | 'answer' | 'personName' | 'title'> &
  Record<'recipients' | 'way', unknown> & {
    readonly [Name in 'number' | 'severity' | 'openSeverity' | 'openAnswer']: IncidentEntity[Name] | null;
  };

/** A column of JSON, which some versions of the database give as text. */
const parsed = <Value>(given: unknown): Value | null =>
  (typeof given === 'string' ? JSON.parse(given) : (given ?? null)) as Value | null;

interface About {
  readonly value: string;
  readonly sql: string;
  readonly values: readonly unknown[];
  /** The same in the filter grammar; empty where it cannot say so. */
  readonly line: string;
}

/** What a time line is about; null where the movement has none. */
function whereOf(about: AroundQuery['about'], movement: Found): About | null {
  switch (about) {
    case 'person':
      return {
        value: movement.personName,
        sql: 'm.personAddress = ?',
        values: [movement.personAddress],
        line: `person eq ${JSON.stringify(movement.personAddress)}`,
      };
    case 'machine':
      return movement.machine === null
        ? null
        : {
            value: movement.machine,
            sql: 'm.machine = ?',
            values: [movement.machine],
            line: `machine eq ${JSON.stringify(movement.machine)}`,
          };
    case 'destination':
      return destination(movement);
    case 'content':
      return movement.contentDigest === null
        ? null
        : { value: 'content', sql: 'm.contentDigest = ?', values: [movement.contentDigest], line: '' };
  }
}

/** Milliseconds of each stretch that is counted. */
const widthOf = ({ from, to }: Span): number =>
  Math.max(1, Math.ceil((to.getTime() - from.getTime()) / STRETCHES));

/** How many of some movements stand in each stretch: what the database counts where there are too many to mark. */
function countsOf(marks: readonly AroundMark[], span: Span): AroundView['counts'] {
  const width = widthOf(span);
  const sums = new Map<number, { movements: number; incidents: number }>();
  for (const mark of marks) {
    if (mark.kind !== 'movement') continue;
    const stretch = Math.floor((new Date(mark.at).getTime() - span.from.getTime()) / width);
    const { movements, incidents } = sums.get(stretch) ?? { movements: 0, incidents: 0 };
    sums.set(stretch, {
      movements: movements + 1,
      incidents: incidents + (mark.incident === null ? 0 : 1),
    });
  }
  return [...sums]
    .sort(([one], [other]) => one - other)
    .map(([stretch, sum]) => ({
      at: new Date(span.from.getTime() + stretch * width).toISOString(),
      ...sum,
    }));
}

/** The domain it goes to, outside first; else the place or device. */
function destination(movement: Found): About | null {
  const [first] = destinationsOf(movement);
  if (first === undefined) return null;
  const isDomain = movement.recipients.some(({ address }) => domainOf(address) === first);
  const field = isDomain ? 'domain' : 'destination';
  const spot = movement.way?.into.find((into) => spotName(into) === first);
  const value = isDomain || !spot ? first : spotName(spot);
  return {
    value,
    sql: 'm.id IN (SELECT t.movementId FROM movement_trait t WHERE t.field = ? AND t.value = ?)',
    values: [field, value],
    line: `${field} eq ${JSON.stringify(value)}`,
  };
}

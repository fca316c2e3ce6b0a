import type { LabelRunItem, LabelRunView } from '@lantern/contracts';
import type { WholeLabelSet } from '@lantern/core/labels';
import type { RunFileResult } from '@lantern/files';
import type { LabelChangeEntity } from '../label-change.entity.js';
import { labelById } from '../../published/published-labels.js';
import type { LabelRunEntity, LabelRunItemEntity } from './label-run.entity.js';
import type { PlaceEntity } from '../../directory/place.entity.js';
import type { PlaceFile } from './places.service.js';

/** What a run did to a file, as the list of all changes tells it. */
export function changeOf(
  runId: string,
  place: PlaceEntity,
  file: PlaceFile,
  { result, set }: { result: RunFileResult; set: WholeLabelSet },
): Omit<LabelChangeEntity, 'id'> {
  const after = labelById(set, result.label);
  const rule = set.automatic.find(({ id }) => id === result.rule);
  const shift = result.outcome === 'labelled' ? 'set' : result.outcome === 'raised' ? 'raised' : 'lowered';
  return {
    at: new Date(result.setAt ?? 0),
    by: rule?.name ?? '',
    how: 'automatically',
    shift,
    carrier: 'document',
    item: `${place.name}/${file.path}`.slice(0, 500),
    itemId: null,
    runId,
    before: result.before && { id: result.before.id, name: result.before.name, rank: result.before.rank },
    after: after && { id: after.id, name: after.name, rank: after.rank },
    reason: `Rule "${rule?.name ?? ''}"`,
  };
}

export function toItem(
  row: LabelRunItemEntity,
  set: WholeLabelSet,
  places: ReadonlyMap<string, string>,
): LabelRunItem {
  const ruleName = (id: string | null): string | null =>
    set.automatic.find((rule) => rule.id === id)?.name ?? id;
  return {
    id: row.id,
    place: places.get(row.placeId) ?? '',
    path: row.path,
    outcome: row.outcome,
    label: labelById(set, row.labelId)?.name ?? row.labelId,
    before: row.before ? (labelById(set, row.before.id)?.name ?? row.before.name) : null,
    beforeHow: row.before?.how ?? null,
    rule: ruleName(row.ruleId),
    outranked: row.outranked.map((id) => ruleName(id) ?? id),
    held: row.held,
    reason: row.reason,
    applied: row.applied,
  };
}

/** A run as its page shows it; `names` and `patterns` give the names of places and patterns by their id. */
export function toView(
  { figures, startedAt, places, rules: _rules, snapshot: _snapshot, ...run }: LabelRunEntity,
  names: ReadonlyMap<string, string>,
  patterns: ReadonlyMap<string, string>,
): LabelRunView {
  const { byRule: _byRule, byPattern, ...shown } = figures;
  return {
    ...run,
    ...shown,
    startedAt: startedAt.toISOString(),
    places: places.map((id) => names.get(id) ?? id),
    byPattern: Object.fromEntries(
      Object.entries(byPattern).map(([id, count]) => [patterns.get(id) ?? id, count]),
    ),
  };
}

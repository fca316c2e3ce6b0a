import type { Condition, Policy, Rule } from '@lantern/core/policy';
import { isGroup } from '@lantern/core/policy';

/** What a rule refers to. */
export type ReferenceKind = 'pattern' | 'text' | 'exchange' | 'label' | 'spots';

/** Turns one reference into another; `path` leads to it inside the policy. */
export type Turn = (kind: ReferenceKind, value: string, path: readonly (string | number)[]) => string;

/** A policy with every reference turned: ids into names for files, names into ids when they are read. */
export function turnReferences<Given extends Omit<Policy, 'id'>>(policy: Given, turn: Turn): Given {
  return {
    ...policy,
    shared: policy.shared && condition(policy.shared, turn, ['shared']),
    rules: policy.rules.map((rule, index) => turnRule(rule, turn, ['rules', index])),
  };
}

type Path = readonly (string | number)[];

function turnRule(rule: Rule, turn: Turn, path: Path): Rule {
  const { measure } = rule;
  return {
    ...rule,
    when: condition(rule.when, turn, [...path, 'when']),
    unless: rule.unless && condition(rule.unless, turn, [...path, 'unless']),
    measure: measure && {
      ...measure,
      pattern: turn('pattern', measure.pattern, [...path, 'measure', 'pattern']),
    },
    bands: rule.bands.map((band, index) => ({
      ...band,
      treatments: band.treatments.map((treatment, at) =>
        treatment.kind === 'set-label'
          ? {
              ...treatment,
              label: turn('label', treatment.label, [...path, 'bands', index, 'treatments', at, 'label']),
            }
          : treatment,
      ),
      text:
        band.text === null
          ? null
          : (turn('text', band.text, [...path, 'bands', index, 'text']) as typeof band.text),
    })),
  };
}

function condition(given: Condition, turn: Turn, path: Path): Condition {
  if (isGroup(given))
    return { ...given, of: given.of.map((part, index) => condition(part, turn, [...path, 'of', index])) };
  if (given.kind === 'findings' || given.kind === 'fields' || given.kind === 'values')
    return { ...given, pattern: turn('pattern', given.pattern, [...path, 'pattern']) };
  if (given.kind === 'label')
    return {
      ...given,
      labels: given.labels.map((id, index) => turn('label', id, [...path, 'labels', index])),
    };
  if (given.kind === 'taken-from' || given.kind === 'put-into')
    return {
      ...given,
      spots: given.spots.map((term, index) =>
        term.kind === 'spots'
          ? {
              ...term,
              called: turn('spots', term.called, [...path, 'spots', index, 'called']) as typeof term.called,
            }
          : term,
      ),
    };
  if (given.kind !== 'exchange') return given;
  const exchanges = given.exchanges.map(
    (id, index) => turn('exchange', id, [...path, 'exchanges', index]) as typeof id,
  );
  return { ...given, exchanges };
}

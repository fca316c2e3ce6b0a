import type { BreachNames } from '@lantern/core/automations';
import { useCrossings } from '../../data/crossings';
import { useLabels } from '../../data/labels';
import { namesIn } from '../../wording/crossings';

/** Names of services, operations, circles and labels, as drafted. */
export function useBreachNames(): BreachNames {
  const crossings = useCrossings();
  const labels = useLabels();
  const known = new Map((labels.data?.labels ?? []).map(({ label }) => [String(label.id), label.name]));
  return namesIn(crossings.data, known);
}

import type { IncidentDetail } from '@lantern/contracts';
import { useUnmask } from '../../../data/incidents';
import { useMay } from '../../../data/session';
import { KeepAsSpecimen } from '../../../shared/evidence/keep-as-specimen';

/** Keeps the evidence of an incident as a specimen. Its values are shown to authors by that, so the history says so. */
export function KeepEvidence({ incident }: { readonly incident: IncidentDetail }) {
  const mayShow = useMay('incidents.unmask');
  const unmask = useUnmask(incident.number);
  if (!mayShow) return null;
  return (
    <KeepAsSpecimen
      name={`Incident ${incident.number}`}
      parts={incident.parts}
      note="The incident’s history records this."
      whole={async (pattern) => (await unmask.mutateAsync(`kept as a specimen of ${pattern}`)).parts}
    />
  );
}

import type { EvidencePart, HistoryEntry, IncidentDetail } from '@lantern/contracts';

/** Text as HTML takes it: what stands in evidence was written by strangers. */
export function escaped(text: string): string {
  return text
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;')
    .replaceAll("'", '&#39;');
}

const STYLE = `body{font:15px/1.5 system-ui,sans-serif;max-width:60rem;margin:2rem auto;padding:0 1rem;color:#1d2430}
table{border-collapse:collapse}td,th{padding:.2rem .8rem .2rem 0;text-align:left;vertical-align:top}
pre{background:#f6f2ea;padding:.6rem;white-space:pre-wrap;overflow-wrap:anywhere}mark{background:#ffd584}
section{border-top:2px solid #ddd4c3;margin-top:2rem}`;

/**
 * A page that reads alone: no script, nothing is fetched. A policy in the page keeps it so, should a browser be talked into
 * more.
 */
export function casePage(
  incidents: readonly IncidentDetail[],
  nameOf: (pattern: string) => string,
  made: { readonly at: Date; readonly by: string },
): string {
  const [first] = incidents;
  const title =
    incidents.length === 1 ? `Incident ${first?.number ?? ''}` : `Case of ${incidents.length} incidents`;
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${escaped(title)}</title>
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'">
<style>${STYLE}</style></head><body>
<h1>${escaped(title)}</h1>
<p>Written ${made.at.toISOString()} for ${escaped(made.by)}. Values are masked.</p>
${incidents.map((incident) => one(incident, nameOf)).join('\n')}
</body></html>
`;
}

function one(incident: IncidentDetail, nameOf: (pattern: string) => string): string {
  const rows: readonly (readonly [string, string])[] = [
    ['Time', incident.at],
    ['Person', `${incident.person.name} (${incident.person.address}), ${incident.person.department}`],
    ['Channel', incident.channel],
    ['Destinations', incident.recipientAddresses.map(({ address }) => address).join(', ')],
    ['Title', incident.title ?? ''],
    ['Found', incident.counts.map(({ pattern, distinct }) => `${distinct} × ${nameOf(pattern)}`).join(', ')],
    ['Answer', incident.answer],
    ['Severity', incident.severity],
    ['Status', `${incident.status}${incident.outcome ? `, ${incident.outcome}` : ''}`],
    ['Assigned to', incident.assignee ?? ''],
    ['Revision', String(incident.revision)],
  ];
  const table = rows.map(([name, value]) => `<tr><th>${name}</th><td>${escaped(value)}</td></tr>`).join('');
  const told = incident.notice ? `<h3>What the person was told</h3><p>${escaped(incident.notice)}</p>` : '';
  return `<section><h2>Incident ${incident.number}</h2><table>${table}</table>
<h3>Evidence</h3>${incident.parts.map(part).join('') || '<p>No text was kept.</p>'}
${told}<h3>History</h3><table>${incident.history.map(entry).join('')}</table></section>`;
}

function part({ path, excerpts, unreadable }: EvidencePart): string {
  const shown = excerpts.map(({ line, pieces }) => {
    const text = pieces
      .map((piece) => ('pattern' in piece ? `<mark>${escaped(piece.text)}</mark>` : escaped(piece.text)))
      .join('');
    return `<p>Line ${line}</p><pre>${text}</pre>`;
  });
  return `<h4>${escaped(path.join(' › '))}</h4>${unreadable ? `<p>Not readable: ${escaped(unreadable)}</p>` : ''}${shown.join('')}`;
}

function entry({ at, by, kind, act, text }: HistoryEntry): string {
  const what = [kind, act ? JSON.stringify(act) : '', text ?? ''].filter(Boolean).join(': ');
  return `<tr><td>${escaped(at)}</td><td>${escaped(by)}</td><td>${escaped(what)}</td></tr>`;
}

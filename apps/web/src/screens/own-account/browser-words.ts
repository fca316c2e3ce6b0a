const BROWSERS: readonly (readonly [expression: RegExp, name: string])[] = [
  [/Edg\/(\d+)/, 'Edge'],
  [/OPR\/(\d+)/, 'Opera'],
  [/Firefox\/(\d+)/, 'Firefox'],
  [/(?:Headless)?Chrom(?:e|ium)\/(\d+)/, 'Chromium'],
  [/Version\/(\d+).* Safari\//, 'Safari'],
  [/^curl\/(\d+)/, 'curl'],
];
const SYSTEMS: readonly (readonly [expression: RegExp, name: string])[] = [
  [/Android/, 'Android'],
  [/iPhone|iPad/, 'iOS'],
  [/Windows/, 'Windows'],
  [/Mac OS X/, 'macOS'],
  [/Linux|X11/, 'Linux'],
];

/** A browser and its system in words, from the field User-Agent (RFC 9110, 10.1.5); as it stands where neither is known. */
export function browserWords(agent: string): string {
  const browser = BROWSERS.flatMap(([expression, name]) => {
    const version = expression.exec(agent)?.[1];
    return version === undefined ? [] : [`${name} ${version}`];
  })[0];
  const system = SYSTEMS.find(([expression]) => expression.test(agent))?.[1];
  if (!browser && !system) return agent === '' ? 'unknown program' : agent.slice(0, 60);
  return [browser ?? 'unknown program', system].filter(Boolean).join(' on ');
}

import { browserWords } from './browser-words';

it.each([
  ['Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) HeadlessChrome/156.0.0.0 Safari/537.36', 'Chromium 156 on Linux'],
  ['Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/156.0.0.0 Safari/537.36 Edg/156.0', 'Edge 156 on Windows'],
  ['Mozilla/5.0 (Macintosh; Intel Mac OS X 14_5) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/19.1 Safari/605.1.15', 'Safari 19 on macOS'],
  ['Mozilla/5.0 (X11; Linux x86_64; rv:150.0) Gecko/20100101 Firefox/150.0', 'Firefox 150 on Linux'],
  ['curl/7.88.1', 'curl 7'],
  ['', 'unknown program'],
  ['node', 'node'],
])('%s is told as %s', (agent, words) => expect(browserWords(agent)).toBe(words)); // prettier-ignore

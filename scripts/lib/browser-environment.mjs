import { TestEnvironment } from 'jest-environment-jsdom';

/** What browsers have and jsdom leaves out; Node has the same. */
const MISSING = ['TextEncoder', 'TextDecoder', 'Request', 'Response', 'Headers', 'fetch', 'structuredClone'];

/** A page for tests of hooks and screens. */
export default class BrowserEnvironment extends TestEnvironment {
  constructor(...given) {
    super(...given);
    for (const name of MISSING) this.global[name] ??= globalThis[name];
  }
}

import { NETWORK_STATES } from '@lantern/core/movement';
import { MOVEMENT_SCHEMA } from './movement-schema.js';
import { among, type JsonSchema, orNull, shape, text, withDefault } from './schema-parts.js';

/**
 * Types of events that business applications hand in (CloudEvents 1.0): `asked` before something is done, and the answer
 * says whether it may be; `happened` afterwards, as a record that nothing holds back.
 */
export const EVENT_TYPES = ['uncut-lantern.use.asked', 'uncut-lantern.use.happened'] as const;
export type EventType = (typeof EVENT_TYPES)[number];

const OF_MOVEMENTS = (MOVEMENT_SCHEMA as { readonly properties: Readonly<Record<string, JsonSchema>> })
  .properties;
const of = (name: string): JsonSchema => OF_MOVEMENTS[name] ?? {};

/** The `data` of such an event. */
export const EVENT_SCHEMA: JsonSchema = {
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  $id: 'uncut-lantern/application-event',
  ...shape(
    {
      application: text('Name of the application, as rules name it.', 200),
      person: text('Address of whoever does it.', 254),
      machine: orNull(text('Name of the machine; null where it is not known.', 120)),
      network: withDefault(among(NETWORK_STATES, 'The network the machine is in.'), 'not-known'),
      use: { ...of('use'), type: 'object' },
      to: of('to'),
      texts: of('texts'),
      files: of('files'),
      putInto: of('putInto'),
    },
    ['application', 'person', 'use'],
    'What is done in a business application.',
  ),
};

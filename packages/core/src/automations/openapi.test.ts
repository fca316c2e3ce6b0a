import { MAX_OPERATIONS, readOpenApi } from './openapi.js';

/** Shapes follow the OpenAPI Specification 3.1.0, sections "Paths Object" and "Operation Object". */
const document = (paths: object, more: object = {}): object => ({
  ...{ openapi: '3.1.0', info: { title: 'Tides', version: '1' }, paths },
  ...more,
});

describe('an OpenAPI document', () => {
  it('gives its operations with what each does', () => {
    const read = readOpenApi(
      document(
        {
          '/tides': {
            get: { operationId: 'listTides', summary: 'Tides of a day' },
            post: {
              requestBody: {
                content: { 'application/json': { schema: { $ref: '#/components/schemas/Hook' } } },
              },
            },
          },
          '/tides/{id}': { delete: { operationId: 'drop' }, parameters: [{ name: 'id', in: 'path' }] },
        },
        { components: { schemas: { Hook: { properties: { to: { type: 'string', format: 'uri' } } } } } },
      ),
    );
    expect(read?.title).toBe('Tides');
    expect(read?.operations).toEqual([
      {
        ...{ id: 'listTides', place: 'GET /tides', name: 'Tides of a day', does: ['reads'] },
        takesAddress: false,
      },
      {
        ...{ id: 'POST /tides', place: 'POST /tides', name: 'POST /tides', does: ['writes', 'sends'] },
        takesAddress: true,
      },
      { id: 'drop', place: 'DELETE /tides/{id}', name: 'drop', does: ['writes'], takesAddress: false },
    ]);
  });

  it('fetches nothing: what refers outside is left out and named', () => {
    const read = readOpenApi(
      document(
        {
          '/a': { $ref: 'https://elsewhere.example/paths.json#/a' },
          '/b': { $ref: '#/components/pathItems/b' },
          '/c': { $ref: '#/components/pathItems/ring' },
        },
        { components: { pathItems: { b: { get: {} }, ring: { $ref: '#/components/pathItems/ring' } } } },
      ),
    );
    expect(read?.operations.map(({ id }) => id)).toEqual(['GET /b']);
    expect(read?.leftOut).toEqual([
      { path: '/a', why: 'refers-outside' },
      { path: '/c', why: 'no-path' },
    ]);
  });

  it('gives each operation an id of its own, and no more than there is room for', () => {
    const same = readOpenApi(
      document({ '/a': { get: { operationId: 'x' } }, '/b': { get: { operationId: 'x' } } }),
    );
    expect(same?.operations.map(({ id }) => id)).toEqual(['x', 'x 2']);
    const many = Object.fromEntries(
      Array.from({ length: MAX_OPERATIONS + 3 }, (_each, at) => [`/${at}`, { get: {} }]),
    );
    const read = readOpenApi(document(many));
    expect([read?.operations.length, read?.leftOut.length]).toEqual([MAX_OPERATIONS, 3]);
  });

  it.each([null, 7, 'text', [], {}, { openapi: '3.1.0' }, { paths: {} }])('is not what %j is', (value) =>
    expect(readOpenApi(value)).toBeNull(),
  );
});

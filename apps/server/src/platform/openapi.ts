import { createRequire } from 'node:module';
import { applyDecorators, type INestApplication } from '@nestjs/common';
import {
  ApiOkResponse,
  ApiProduces,
  ApiQuery,
  DocumentBuilder,
  type OpenAPIObject,
  SwaggerModule,
} from '@nestjs/swagger';

type Schemas = NonNullable<NonNullable<OpenAPIObject['components']>['schemas']>;

/** Declares the contract that a route answers with; its schema is generated from the contract's type. */
export function Answers(contract: string, shape: 'one' | 'list' = 'one') {
  const reference = { $ref: `#/components/schemas/${contract}` };
  return applyDecorators(
    ApiProduces('application/json'),
    ApiOkResponse({ schema: shape === 'one' ? reference : { type: 'array', items: reference } }),
  );
}

/** Declares the contract whose fields a route takes as query parameters. */
export function Asks(contract: string) {
  const schema = contractSchemas()[contract] as
    { properties?: Record<string, { type?: string; description?: string }> } | undefined;
  const parameters = Object.entries(schema?.properties ?? {}).map(([name, property]) => {
    // Lists travel as words divided by commas.
    const list =
      property.type === 'array' ? { type: 'string', description: 'words divided by commas' } : property;
    return ApiQuery({
      name,
      required: false,
      schema: list as object,
      ...(list.description ? { description: list.description } : {}),
    });
  });
  return applyDecorators(...parameters);
}

/** Schemas of all contracts, written by the build beside their code. */
function contractSchemas(): Schemas {
  const require = createRequire(import.meta.url);
  const { definitions } = require('@lantern/contracts/schema.json') as {
    definitions: Record<string, unknown>;
  };
  const named = Object.entries(definitions).map(([name, schema]) => [safeName(name), schema]);
  const text = JSON.stringify(Object.fromEntries(named));
  return JSON.parse(
    text.replace(
      /#\/definitions\/([^"]+)/g,
      (_all, name: string) => `#/components/schemas/${safeName(decodeURIComponent(name))}`,
    ),
  ) as Schemas;
}

/** Component names take letters, digits, dot, dash and underscore only (OpenAPI 3.0.3, components object). */
function safeName(name: string): string {
  return name.replace(/[^A-Za-z0-9._-]+/g, '.').replace(/^\.|\.$/g, '');
}

/** Serves the description at `/api/docs` and `/api/openapi.json`. */
export function describeApi(application: INestApplication): void {
  const about = new DocumentBuilder()
    .setTitle('Uncut Lantern')
    .setDescription(
      'Describe what is sensitive, write rules for how it may move, triage what was caught. Changes need the session cookie and the header x-csrf-token, or the key of a service account in the header Authorization.',
    )
    .setVersion('0.1.0')
    .addCookieAuth('lantern_session')
    .build();
  const document = SwaggerModule.createDocument(application, about);
  document.components = {
    ...document.components,
    schemas: { ...document.components?.schemas, ...contractSchemas() },
  };
  SwaggerModule.setup('api/docs', application, document, {
    jsonDocumentUrl: 'api/openapi.json',
    customSiteTitle: 'Uncut Lantern API',
  });
}

import {
  EXCHANGE_SCHEMA,
  type JsonSchema,
  POLICY_SCHEMA,
  PolicyTextRequest,
  type PolicyTextResult,
  PolicyToTextRequest,
  SetFile,
  SetImportRequest,
  type SetImportResult,
  SPOT_GROUP_SCHEMA,
  TEXT_SCHEMA,
} from '@lantern/contracts';
import { Body, Controller, Get, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../platform/auth/permit.js';
import { AppError } from '../platform/errors/app-error.js';
import { Answers } from '../platform/openapi.js';
import { SetFilesService } from './set-files.service.js';

const SCHEMAS: Readonly<Record<string, JsonSchema>> = {
  policy: POLICY_SCHEMA,
  text: TEXT_SCHEMA,
  exchange: EXCHANGE_SCHEMA,
  spots: SPOT_GROUP_SCHEMA,
};

/** The whole set as text files (docs/formats/policy-set.md). */
@ApiTags('set')
@Controller('set')
export class SetFilesController {
  constructor(private readonly files: SetFilesService) {}

  @Get()
  @Permit('policies.silent')
  @Answers('SetFile', 'list')
  write(): Promise<SetFile[]> {
    return this.files.write();
  }

  /** Puts files in the place of the drafts, or only says what would change. One fault leaves everything as it is. */
  @Post()
  @Permit('policies.write')
  @HttpCode(200)
  @Answers('SetImportResult')
  read(@Body() { files, onlyLook }: SetImportRequest, @CallerOf() caller: Caller): Promise<SetImportResult> {
    if (!onlyLook && !caller.permissions.includes('policies.silent'))
      throw new AppError(
        'not-permitted',
        'There may be silent rules that your account may not see, so you cannot replace the set.',
      );
    return this.files.read(files, onlyLook, caller);
  }

  /** The JSON Schema of a kind of file. */
  @Get('schema/:kind')
  @Permit('policies.read')
  schema(@Param('kind') kind: string): JsonSchema {
    const schema = Object.hasOwn(SCHEMAS, kind) ? SCHEMAS[kind] : undefined;
    if (!schema) throw new AppError('not-found', 'There is no such schema.');
    return schema;
  }

  /** A policy as text, its references by name. Saves nothing. */
  @Post('policy-text')
  @Permit('policies.read')
  @HttpCode(200)
  async toText(@Body() { policy }: PolicyToTextRequest): Promise<{ text: string }> {
    return { text: await this.files.policyText(policy) };
  }

  /** A policy from text, or its faults with their lines. Saves nothing. */
  @Post('policies/:id/text')
  @Permit('policies.read')
  @HttpCode(200)
  @Answers('PolicyTextResult')
  fromText(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { text }: PolicyTextRequest,
  ): Promise<PolicyTextResult> {
    return this.files.readText(id, text);
  }
}

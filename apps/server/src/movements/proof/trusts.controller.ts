import type { TrustView } from '@lantern/contracts';
import { Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../../platform/auth/permit.js';
import { Answers } from '../../platform/openapi.js';
import { Trusts } from './trusts.service.js';

/** Confirmed identities that still count, and their early end. */
@ApiTags('waiting')
@Controller('trusts')
export class TrustsController {
  constructor(private readonly trusts: Trusts) {}

  @Get()
  @Permit('incidents.read')
  @Answers('TrustView', 'list')
  list(): Promise<TrustView[]> {
    return this.trusts.list();
  }

  /** Ends a confirmed identity: rules ask the person for a second factor again. */
  @Delete(':id')
  @Permit('overrides.decide')
  @HttpCode(204)
  end(@Param('id', ParseUUIDPipe) id: string, @CallerOf() caller: Caller): Promise<void> {
    return this.trusts.end(id, caller.name);
  }
}

import { type JudgedSpecimen, SpecimenRequest, type SpecimenView } from '@lantern/contracts';
import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseUUIDPipe,
  Post,
  Put,
  Query,
} from '@nestjs/common';
import { ApiQuery, ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../platform/auth/permit.js';
import { Answers } from '../platform/openapi.js';
import { OwnPatternsService } from './own-patterns.service.js';
import { SpecimensService } from './specimens.service.js';

@ApiTags('patterns')
@Controller('specimens')
export class SpecimensController {
  constructor(
    private readonly specimens: SpecimensService,
    private readonly ownPatterns: OwnPatternsService,
  ) {}

  @Get()
  @Permit('patterns.read')
  @ApiQuery({ name: 'pattern', required: false })
  @Answers('SpecimenView', 'list')
  list(@Query('pattern') pattern?: string): Promise<SpecimenView[]> {
    return this.specimens.list(pattern);
  }

  /** How the specimens of a pattern come out with the drafts, for patterns whose knowledge stays on the server. */
  @Get('judged')
  @Permit('patterns.read')
  @ApiQuery({ name: 'pattern' })
  @Answers('JudgedSpecimen', 'list')
  async judged(@Query('pattern') pattern: string): Promise<JudgedSpecimen[]> {
    return this.specimens.judged(String(pattern ?? ''), await this.ownPatterns.drafts());
  }

  @Post()
  @Permit('patterns.write')
  @Answers('SpecimenView')
  create(@Body() request: SpecimenRequest, @CallerOf() caller: Caller): Promise<SpecimenView> {
    return this.specimens.create(request, caller);
  }

  @Put(':id')
  @Permit('patterns.write')
  @Answers('SpecimenView')
  save(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: SpecimenRequest,
    @CallerOf() caller: Caller,
  ): Promise<SpecimenView> {
    return this.specimens.save(id, request, caller);
  }

  @Delete(':id')
  @Permit('patterns.write')
  @HttpCode(204)
  remove(@Param('id', ParseUUIDPipe) id: string): Promise<void> {
    return this.specimens.remove(id);
  }
}

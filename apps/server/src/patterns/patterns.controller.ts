import {
  ExpressionRequest,
  type PatternDetail,
  type PatternSummary,
  type SavedWordList,
  SaveExpressionRequest,
  SaveWeightsRequest,
  SaveWordListRequest,
  WordListRequest,
} from '@lantern/contracts';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../platform/auth/permit.js';
import { Answers } from '../platform/openapi.js';
import { ExpressionsService } from './expressions.service.js';
import { PatternsService } from './patterns.service.js';

@ApiTags('patterns')
@Controller('patterns')
export class PatternsController {
  constructor(
    private readonly patterns: PatternsService,
    private readonly expressions: ExpressionsService,
  ) {}

  @Get()
  @Permit('patterns.read')
  @Answers('PatternSummary', 'list')
  list(): Promise<PatternSummary[]> {
    return this.patterns.list();
  }

  @Get(':id')
  @Permit('patterns.read')
  @Answers('PatternDetail')
  get(@Param('id') id: string): Promise<PatternDetail> {
    return this.patterns.get(id);
  }

  @Post()
  @Permit('patterns.write')
  @Answers('SavedWordList')
  create(@Body() request: WordListRequest, @CallerOf() caller: Caller): Promise<SavedWordList> {
    return this.patterns.create(request, caller);
  }

  @Post('expressions')
  @Permit('patterns.write')
  @Answers('PatternDetail')
  createExpression(@Body() request: ExpressionRequest, @CallerOf() caller: Caller): Promise<PatternDetail> {
    return this.expressions.create(request, caller);
  }

  @Put(':id/expression')
  @Permit('patterns.write')
  @Answers('PatternDetail')
  saveExpression(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: SaveExpressionRequest,
    @CallerOf() caller: Caller,
  ): Promise<PatternDetail> {
    return this.expressions.save(id, request, caller);
  }

  @Put(':id')
  @Permit('patterns.write')
  @Answers('SavedWordList')
  save(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: SaveWordListRequest,
    @CallerOf() caller: Caller,
  ): Promise<SavedWordList> {
    return this.patterns.save(id, request, caller);
  }

  @Put(':id/weights')
  @Permit('patterns.write')
  @Answers('PatternDetail')
  saveWeights(
    @Param('id') id: string,
    @Body() request: SaveWeightsRequest,
    @CallerOf() caller: Caller,
  ): Promise<PatternDetail> {
    return this.patterns.saveWeights(id, request, caller);
  }

  @Delete(':id')
  @Permit('patterns.write')
  @HttpCode(204)
  remove(@Param('id', ParseUUIDPipe) id: string): Promise<void> {
    return this.patterns.remove(id);
  }
}

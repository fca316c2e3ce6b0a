import {
  ExchangeRequest,
  type ExchangeView,
  SaveExchangeRequest,
  SaveSpotGroupRequest,
  SaveTextRequest,
  SpotGroupRequest,
  type SpotGroupView,
  TextRequest,
  type TextView,
} from '@lantern/contracts';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../platform/auth/permit.js';
import { Answers } from '../platform/openapi.js';
import { SetPartsService } from './set-parts.service.js';

/** Words that people read, written once. */
@ApiTags('policies')
@Controller('texts')
export class TextsController {
  constructor(private readonly parts: SetPartsService) {}

  @Get()
  @Permit('policies.read')
  @Answers('TextView', 'list')
  list(): Promise<TextView[]> {
    return this.parts.listTexts();
  }

  @Post()
  @Permit('policies.write')
  async create(@Body() request: TextRequest, @CallerOf() caller: Caller): Promise<{ id: string }> {
    return { id: await this.parts.create('text', request.text, caller) };
  }

  @Put(':id')
  @Permit('policies.write')
  @HttpCode(204)
  save(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { text, version }: SaveTextRequest,
    @CallerOf() caller: Caller,
  ): Promise<void> {
    return this.parts.save('text', id, { definition: text, version }, caller);
  }

  @Delete(':id')
  @Permit('policies.write')
  @HttpCode(204)
  remove(@Param('id', ParseUUIDPipe) id: string): Promise<void> {
    return this.parts.remove('text', id);
  }
}

/** The register of legitimate exchanges. */
@ApiTags('policies')
@Controller('exchanges')
export class ExchangesController {
  constructor(private readonly parts: SetPartsService) {}

  @Get()
  @Permit('policies.read')
  @Answers('ExchangeView', 'list')
  list(): Promise<ExchangeView[]> {
    return this.parts.listExchanges();
  }

  @Post()
  @Permit('policies.write')
  async create(@Body() request: ExchangeRequest, @CallerOf() caller: Caller): Promise<{ id: string }> {
    return { id: await this.parts.create('exchange', request.exchange, caller) };
  }

  @Put(':id')
  @Permit('policies.write')
  @HttpCode(204)
  save(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { exchange, version }: SaveExchangeRequest,
    @CallerOf() caller: Caller,
  ): Promise<void> {
    return this.parts.save('exchange', id, { definition: exchange, version }, caller);
  }

  @Delete(':id')
  @Permit('policies.write')
  @HttpCode(204)
  remove(@Param('id', ParseUUIDPipe) id: string): Promise<void> {
    return this.parts.remove('exchange', id);
  }
}

/** Applications, sites, devices and places under one name. */
@ApiTags('policies')
@Controller('spots')
export class SpotsController {
  constructor(private readonly parts: SetPartsService) {}

  @Get()
  @Permit('policies.read')
  @Answers('SpotGroupView', 'list')
  list(): Promise<SpotGroupView[]> {
    return this.parts.listSpots();
  }

  @Post()
  @Permit('policies.write')
  async create(@Body() request: SpotGroupRequest, @CallerOf() caller: Caller): Promise<{ id: string }> {
    return { id: await this.parts.create('spots', request.spots, caller) };
  }

  @Put(':id')
  @Permit('policies.write')
  @HttpCode(204)
  save(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { spots, version }: SaveSpotGroupRequest,
    @CallerOf() caller: Caller,
  ): Promise<void> {
    return this.parts.save('spots', id, { definition: spots, version }, caller);
  }

  @Delete(':id')
  @Permit('policies.write')
  @HttpCode(204)
  remove(@Param('id', ParseUUIDPipe) id: string): Promise<void> {
    return this.parts.remove('spots', id);
  }
}

import {
  type DeliveryView,
  HookRequest,
  type HookView,
  type ResponsePreview,
  ResponseRequest,
  type ResponseResult,
  type ResponseTemplate,
  RoutingOrderRequest,
  RoutingRuleRequest,
  type RoutingRuleView,
} from '@lantern/contracts';
import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseIntPipe,
  ParseUUIDPipe,
  Post,
  Put,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Narrowed, Permit } from '../platform/auth/permit.js';
import { Answers } from '../platform/openapi.js';
import { Hooks } from './hooks/hooks.service.js';
import { Responses } from './people/respond.service.js';
import { Routing } from './routing/routing.service.js';

/** What is done about incidents: people told and asked, tickets, routing rules and watches. */
@ApiTags('response')
@Controller()
export class ResponseController {
  constructor(
    private readonly responses: Responses,
    private readonly hooks: Hooks,
    private readonly routing: Routing,
  ) {}

  /** Texts to begin with, in the language of the incident's person. */
  @Get('incidents/:number/response-texts')
  @Permit('incidents.respond')
  @Narrowed()
  @Answers('ResponseTemplate', 'list')
  templates(
    @Param('number', ParseIntPipe) number: number,
    @CallerOf() caller: Caller,
  ): Promise<ResponseTemplate[]> {
    return this.responses.templates(number, caller);
  }

  /** What would go out, for the first of the incidents. Sends nothing. */
  @Post('responses/preview')
  @Permit('incidents.respond')
  @Narrowed()
  @HttpCode(200)
  @Answers('ResponsePreview')
  preview(@Body() request: ResponseRequest, @CallerOf() caller: Caller): Promise<ResponsePreview> {
    return this.responses.preview(request, caller);
  }

  /** A mail cannot be taken back: look at the preview first. */
  @Post('responses')
  @Permit('incidents.respond')
  @Narrowed()
  @HttpCode(200)
  @Answers('ResponseResult', 'list')
  send(@Body() request: ResponseRequest, @CallerOf() caller: Caller): Promise<ResponseResult[]> {
    return this.responses.send(request, caller);
  }

  @Get('hooks')
  @Permit('incidents.respond')
  @Narrowed()
  @Answers('HookView', 'list')
  listHooks(): Promise<HookView[]> {
    return this.hooks.list();
  }

  /** The answer holds the secret of its signatures, this once. */
  @Post('hooks')
  @Permit('incidents.route')
  @Answers('HookView')
  addHook(@Body() request: HookRequest, @CallerOf() caller: Caller): Promise<HookView> {
    return this.hooks.add(request, caller.name);
  }

  @Delete('hooks/:id')
  @Permit('incidents.route')
  @HttpCode(204)
  removeHook(@Param('id', ParseUUIDPipe) id: string): Promise<void> {
    return this.hooks.remove(id);
  }

  @Get('hooks/:id/deliveries')
  @Permit('incidents.route')
  @Answers('DeliveryView', 'list')
  deliveries(@Param('id', ParseUUIDPipe) id: string): Promise<DeliveryView[]> {
    return this.hooks.deliveries(id);
  }

  @Post('hook-deliveries/:id/send-again')
  @Permit('incidents.route')
  @HttpCode(204)
  sendAgain(@Param('id', ParseUUIDPipe) id: string): Promise<void> {
    return this.hooks.sendAgain(id);
  }

  /** Rules of the desk and the caller's own watches, in their order. */
  @Get('routing-rules')
  @Permit('incidents.read')
  @Answers('RoutingRuleView', 'list')
  rules(@CallerOf() caller: Caller): Promise<RoutingRuleView[]> {
    return this.routing.list(caller);
  }

  /** A watch needs no more than reading incidents; a rule of the desk needs the right to route. */
  @Post('routing-rules')
  @Permit('incidents.read')
  @Answers('RoutingRuleView', 'list')
  addRule(@Body() request: RoutingRuleRequest, @CallerOf() caller: Caller): Promise<RoutingRuleView[]> {
    return this.routing.save(null, request, caller);
  }

  @Put('routing-rules/order')
  @Permit('incidents.route')
  @Answers('RoutingRuleView', 'list')
  order(@Body() { ids }: RoutingOrderRequest, @CallerOf() caller: Caller): Promise<RoutingRuleView[]> {
    return this.routing.order(ids, caller);
  }

  @Put('routing-rules/:id')
  @Permit('incidents.read')
  @Answers('RoutingRuleView', 'list')
  changeRule(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: RoutingRuleRequest,
    @CallerOf() caller: Caller,
  ): Promise<RoutingRuleView[]> {
    return this.routing.save(id, request, caller);
  }

  @Delete('routing-rules/:id')
  @Permit('incidents.read')
  @Answers('RoutingRuleView', 'list')
  removeRule(@Param('id', ParseUUIDPipe) id: string, @CallerOf() caller: Caller): Promise<RoutingRuleView[]> {
    return this.routing.remove(id, caller);
  }
}

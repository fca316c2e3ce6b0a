import {
  AutomaticRequest,
  ImportLabelsRequest,
  type ImportLabelsResult,
  type LabelChangePage,
  LabelChangeQuery,
  type LabelHistoryEntry,
  LabelRequest,
  type LabelReview,
  type LabelSetText,
  type LabelsView,
  OfferRequest,
  SaveAutomaticRequest,
  SaveLabelRequest,
  SaveOfferRequest,
  SignOffRequest,
  type SignOffView,
} from '@lantern/contracts';
import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseEnumPipe,
  ParseUUIDPipe,
  Post,
  Put,
  Query,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../platform/auth/permit.js';
import { Answers, Asks } from '../platform/openapi.js';
import { LabelChangesService } from './label-changes.service.js';
import { LabelDraftsService } from './label-drafts.service.js';
import { LabelReviewService } from './label-review.service.js';

const KINDS = { labels: 'label', offers: 'offer', automatic: 'automatic' } as const;

/** Labels as their authors write them, and what is known about their use. */
@ApiTags('labels')
@Controller('labels')
export class LabelsController {
  constructor(
    private readonly drafts: LabelDraftsService,
    private readonly reviews: LabelReviewService,
    private readonly changes: LabelChangesService,
  ) {}

  @Get()
  @Permit('labels.read')
  @Answers('LabelsView')
  list(): Promise<LabelsView> {
    return this.drafts.list();
  }

  /** What publishing would change for people, who stands under two offers that disagree, and what the business says. */
  @Get('review')
  @Permit('labels.read')
  @Answers('LabelReview')
  review(): Promise<LabelReview> {
    return this.reviews.review();
  }

  @Post('sign-offs')
  @Permit('labels.sign')
  @Answers('SignOffView', 'list')
  sign(@Body() request: SignOffRequest, @CallerOf() caller: Caller): Promise<SignOffView[]> {
    return this.reviews.sign(request, caller);
  }

  /** The whole set as one YAML file. */
  @Get('text')
  @Permit('labels.read')
  @Answers('LabelSetText')
  text(): Promise<LabelSetText> {
    return this.reviews.text();
  }

  @Post('text')
  @Permit('labels.write')
  @HttpCode(200)
  @Answers('ImportLabelsResult')
  read(
    @Body() { text, onlyLook }: ImportLabelsRequest,
    @CallerOf() caller: Caller,
  ): Promise<ImportLabelsResult> {
    return this.reviews.read(text, onlyLook, caller);
  }

  /** Every change of the label of an item. */
  @Get('changes')
  @Permit('labels.read')
  @Asks('LabelChangeQuery')
  @Answers('LabelChangePage')
  changed(@Query() query: LabelChangeQuery): Promise<LabelChangePage> {
    return this.changes.list(query);
  }

  @Get('history/:id')
  @Permit('labels.read')
  @Answers('LabelHistoryEntry', 'list')
  history(@Param('id', ParseUUIDPipe) id: string): Promise<LabelHistoryEntry[]> {
    return this.drafts.history(id);
  }

  @Post('labels')
  @Permit('labels.write')
  async createLabel(
    @Body() { label, note }: LabelRequest,
    @CallerOf() caller: Caller,
  ): Promise<{ id: string }> {
    return { id: await this.drafts.create('label', label, note ?? '', caller) };
  }

  @Put('labels/:id')
  @Permit('labels.write')
  @HttpCode(204)
  saveLabel(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { label, version, note }: SaveLabelRequest,
    @CallerOf() caller: Caller,
  ): Promise<void> {
    return this.drafts.save('label', id, { definition: label, version, note: note ?? '' }, caller);
  }

  @Post('offers')
  @Permit('labels.write')
  async createOffer(
    @Body() { offer, note }: OfferRequest,
    @CallerOf() caller: Caller,
  ): Promise<{ id: string }> {
    return { id: await this.drafts.create('offer', offer, note ?? '', caller) };
  }

  @Put('offers/:id')
  @Permit('labels.write')
  @HttpCode(204)
  saveOffer(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { offer, version, note }: SaveOfferRequest,
    @CallerOf() caller: Caller,
  ): Promise<void> {
    return this.drafts.save('offer', id, { definition: offer, version, note: note ?? '' }, caller);
  }

  @Post('automatic')
  @Permit('labels.write')
  async createAutomatic(
    @Body() { automatic, note }: AutomaticRequest,
    @CallerOf() caller: Caller,
  ): Promise<{ id: string }> {
    return { id: await this.drafts.create('automatic', automatic, note ?? '', caller) };
  }

  @Put('automatic/:id')
  @Permit('labels.write')
  @HttpCode(204)
  saveAutomatic(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { automatic, version, note }: SaveAutomaticRequest,
    @CallerOf() caller: Caller,
  ): Promise<void> {
    return this.drafts.save('automatic', id, { definition: automatic, version, note: note ?? '' }, caller);
  }

  @Delete(':kind/:id')
  @Permit('labels.write')
  @HttpCode(204)
  remove(
    @Param('kind', new ParseEnumPipe(Object.fromEntries(Object.keys(KINDS).map((kind) => [kind, kind]))))
    kind: keyof typeof KINDS,
    @Param('id', ParseUUIDPipe) id: string,
    @CallerOf() caller: Caller,
  ): Promise<void> {
    return this.drafts.remove(KINDS[kind], id, caller);
  }
}

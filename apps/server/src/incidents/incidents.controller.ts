import {
  ActRequest,
  type EvidencePart,
  type IncidentDetail,
  NoteRequest,
  type PicturesView,
  UnmaskRequest,
} from '@lantern/contracts';
import {
  Body,
  Controller,
  Get,
  Header,
  HttpCode,
  Param,
  ParseIntPipe,
  Post,
  StreamableFile,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Narrowed, Permit } from '../platform/auth/permit.js';
import { ShowsNames } from '../directory/hidden-names/hidden-names.interceptor.js';
import { Answers } from '../platform/openapi.js';
import { IncidentsService } from './incidents.service.js';

@ApiTags('incidents')
@Controller('incidents')
export class IncidentsController {
  constructor(private readonly incidents: IncidentsService) {}

  @Get(':number')
  @Permit('incidents.read')
  @Narrowed()
  @Answers('IncidentDetail')
  get(@Param('number', ParseIntPipe) number: number, @CallerOf() caller: Caller): Promise<IncidentDetail> {
    return this.incidents.get(number, caller);
  }

  @Post(':number/acts')
  @Permit('incidents.decide')
  @Narrowed()
  @HttpCode(200)
  @Answers('IncidentDetail')
  act(
    @Param('number', ParseIntPipe) number: number,
    @Body() request: ActRequest,
    @CallerOf() caller: Caller,
  ): Promise<IncidentDetail> {
    return this.incidents.act(number, request, caller);
  }

  @Post(':number/notes')
  @Permit('incidents.decide')
  @Narrowed()
  @HttpCode(200)
  @Answers('IncidentDetail')
  note(
    @Param('number', ParseIntPipe) number: number,
    @Body() request: NoteRequest,
    @CallerOf() caller: Caller,
  ): Promise<IncidentDetail> {
    return this.incidents.note(number, request.text, caller);
  }

  /** Shows the values whole, once; the reason goes into the history. */
  @Post(':number/unmaskings')
  @ShowsNames()
  @Permit('incidents.unmask')
  @Narrowed()
  @HttpCode(200)
  @Answers('IncidentDetail')
  unmask(
    @Param('number', ParseIntPipe) number: number,
    @Body() request: UnmaskRequest,
    @CallerOf() caller: Caller,
  ): Promise<IncidentDetail> {
    return this.incidents.unmask(number, request.reason, caller);
  }

  /** What stands around every finding, masked: more than the first of each part that are kept as evidence. */
  @Get(':number/findings')
  @Permit('incidents.read')
  @Narrowed()
  @Answers('EvidencePart', 'list')
  findings(
    @Param('number', ParseIntPipe) number: number,
    @CallerOf() caller: Caller,
  ): Promise<EvidencePart[]> {
    return this.incidents.findings(number, caller);
  }

  /** The content as it was, as a ZIP archive; the reason goes into the history. */
  @Post(':number/original')
  @ShowsNames()
  @Permit('incidents.unmask')
  @Narrowed()
  @HttpCode(200)
  @Header('content-type', 'application/zip')
  async original(
    @Param('number', ParseIntPipe) number: number,
    @Body() { reason }: UnmaskRequest,
    @CallerOf() caller: Caller,
  ): Promise<StreamableFile> {
    const archive = await this.incidents.original(number, reason, caller);
    return new StreamableFile(archive, {
      disposition: `attachment; filename="incident-${number}-original.zip"`,
    });
  }

  /** What the screen showed around the movement; the reason goes into the history. */
  @Post(':number/pictures')
  @ShowsNames()
  @Permit('incidents.unmask')
  @Narrowed()
  @HttpCode(200)
  @Answers('PicturesView')
  pictures(
    @Param('number', ParseIntPipe) number: number,
    @Body() { reason }: UnmaskRequest,
    @CallerOf() caller: Caller,
  ): Promise<PicturesView> {
    return this.incidents.pictures(number, reason, caller);
  }
}

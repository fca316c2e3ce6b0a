import { type PhoneView, ProofRequest, type TrustView } from '@lantern/contracts';
import { PasskeyAnswer, type PasskeyOptionsView } from '@lantern/contracts/passkeys';
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
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { PeopleService } from '../../directory/people.service.js';
import { Movements } from '../../movements/movements.service.js';
import { PersonAnswers, type SubmissionRef } from '../../movements/person-answers.service.js';
import { PersonPasskeys } from '../../movements/proof/person-passkeys.service.js';
import { PersonFactors, STEP_SECONDS } from '../../movements/proof/person-factors.service.js';
import { Trusts } from '../../movements/proof/trusts.service.js';
import { Permit } from '../../platform/auth/permit.js';
import { AppError } from '../../platform/errors/app-error.js';
import { Answers } from '../../platform/openapi.js';

/** Phone of a played person: shows the code of their second factor. All stand-ins submit codes here. */
@ApiTags('stand-ins')
@Controller('stand-ins/phone/:player')
@Permit('stand-ins.use')
export class PhoneController {
  constructor(
    private readonly people: PeopleService,
    private readonly factors: PersonFactors,
    private readonly answers: PersonAnswers,
    private readonly movements: Movements,
    private readonly trusts: Trusts,
    private readonly passkeys: PersonPasskeys,
  ) {}

  @Get()
  @Answers('PhoneView')
  async view(@Param('player') player: string): Promise<PhoneView> {
    const { address } = await this.people.player(player);
    const seconds = Math.floor(Date.now() / 1_000) % STEP_SECONDS;
    return {
      ...{ code: await this.factors.codeNow(address), secondsLeft: STEP_SECONDS - seconds },
      passkeys: await this.passkeys.list(address),
    };
  }

  /** Checks a second-factor code for a movement of this person. */
  @Post('incidents/:incident/proof')
  @HttpCode(204)
  async prove(
    @Param('player') player: string,
    @Param('incident', ParseIntPipe) incident: number,
    @Body() given: ProofRequest,
  ): Promise<void> {
    await this.answers.prove(await this.ownOf(player, incident), given);
  }

  /** What the browser needs to answer with a passkey. */
  @Post('incidents/:incident/proof/challenge')
  @HttpCode(200)
  @Answers('PasskeyOptionsView')
  async toProve(
    @Param('player') player: string,
    @Param('incident', ParseIntPipe) incident: number,
  ): Promise<PasskeyOptionsView> {
    return this.answers.toProve(await this.ownOf(player, incident));
  }

  /** What the browser needs to make a passkey for this person. */
  @Post('passkeys/challenge')
  @HttpCode(200)
  @Answers('PasskeyOptionsView')
  async begin(@Param('player') player: string): Promise<PasskeyOptionsView> {
    return this.passkeys.begin(await this.people.player(player));
  }

  @Post('passkeys')
  @HttpCode(204)
  async add(@Param('player') player: string, @Body() answer: PasskeyAnswer): Promise<void> {
    await this.passkeys.add((await this.people.player(player)).address, answer);
  }

  @Delete('passkeys/:id')
  @HttpCode(204)
  async remove(@Param('player') player: string, @Param('id', ParseUUIDPipe) id: string): Promise<void> {
    await this.passkeys.remove((await this.people.player(player)).address, id);
  }

  /** Confirmed identities of this person. */
  @Get('trusts')
  @Answers('TrustView', 'list')
  async list(@Param('player') player: string): Promise<TrustView[]> {
    return this.trusts.list((await this.people.player(player)).address);
  }

  @Delete('trusts/:id')
  @HttpCode(204)
  async end(@Param('player') player: string, @Param('id', ParseUUIDPipe) id: string): Promise<void> {
    const { address, name } = await this.people.player(player);
    await this.trusts.end(id, name, address);
  }

  private async ownOf(player: string, incident: number): Promise<SubmissionRef> {
    const { address } = await this.people.player(player);
    const ref = await this.answers.ofIncident(incident);
    if ((await this.movements.personOf(ref.submitter, ref.id)) !== address)
      throw new AppError('not-found', 'This movement does not exist.');
    return ref;
  }
}

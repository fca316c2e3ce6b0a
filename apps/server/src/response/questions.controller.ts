import { type QuestionView, QuestionReplyRequest } from '@lantern/contracts';
import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { OPEN, Permit } from '../platform/auth/permit.js';
import { Answers } from '../platform/openapi.js';
import { Questions } from './people/questions.service.js';

/** Links by which people answer questions: their holders have no account. */
@ApiTags('response')
@Controller('questions')
export class QuestionsController {
  constructor(private readonly questions: Questions) {}

  @Get(':token')
  @Permit(OPEN)
  @Answers('QuestionView')
  look(@Param('token') token: string): Promise<QuestionView> {
    return this.questions.view(token);
  }

  @Post(':token')
  @Permit(OPEN)
  @HttpCode(204)
  reply(@Param('token') token: string, @Body() { text }: QuestionReplyRequest): Promise<void> {
    return this.questions.reply(token, text);
  }
}

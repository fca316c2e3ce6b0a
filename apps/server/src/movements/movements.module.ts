import { Global, Module } from '@nestjs/common';
import { ApprovalsController } from './approvals/approvals.controller.js';
import { ApprovalsDesk } from './approvals/approvals.service.js';
import { StandingApprovals } from './approvals/standing-approvals.service.js';
import { ChannelSettings } from './channels/channel-settings.service.js';
import { MovementJudge } from './judge.service.js';
import { MailLabels } from './mail/mail-labels.service.js';
import { Movements } from './movements.service.js';
import { MatchMails } from './notice/match-mails.service.js';
import { Outcomes } from './outcomes.js';
import { PendingController } from './pending/pending.controller.js';
import { PendingList } from './pending/pending-list.service.js';
import { PendingMails } from './pending/pending-mails.service.js';
import { PendingService } from './pending/pending.service.js';
import { PersonAnswers } from './person-answers.service.js';
import { PersonPasskeys } from './proof/person-passkeys.service.js';
import { PastAmounts } from './past/past-amounts.service.js';
import { PersonFactors } from './proof/person-factors.service.js';
import { TrustsController } from './proof/trusts.controller.js';
import { Trusts } from './proof/trusts.service.js';
import { RecorderService } from './recorder.service.js';
import { Reports } from './reports.service.js';

const PROVIDERS = [
  Outcomes,
  StandingApprovals,
  ApprovalsDesk,
  MovementJudge,
  ChannelSettings,
  Movements,
  PersonAnswers,
  Reports,
  MatchMails,
  PendingMails,
  PendingService,
  PendingList,
  RecorderService,
  MailLabels,
  PastAmounts,
  PersonPasskeys,
  PersonFactors,
  Trusts,
];

/** The one pipeline that every movement goes through. */
@Global()
@Module({
  controllers: [PendingController, TrustsController, ApprovalsController],
  providers: PROVIDERS,
  exports: PROVIDERS,
})
export class MovementsModule {}

import { Global, Module } from '@nestjs/common';
import { Hooks } from './hooks/hooks.service.js';
import { Questions } from './people/questions.service.js';
import { Responses } from './people/respond.service.js';
import { QuestionsController } from './questions.controller.js';
import { ResponseController } from './response.controller.js';
import { SignOut } from './sign-out.js';
import { TakeBack } from './take-back.js';
import { Alerts } from './routing/alerts.service.js';
import { RoutedResponses } from './routing/routed-responses.service.js';
import { Routing } from './routing/routing.service.js';

const PROVIDERS = [TakeBack, SignOut, Hooks, Questions, Responses, Alerts, RoutedResponses, Routing];

/** What is done about incidents, by people and by rules. */
@Global()
@Module({ controllers: [QuestionsController, ResponseController], providers: PROVIDERS, exports: PROVIDERS })
export class ResponseModule {}

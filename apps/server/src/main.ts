import 'reflect-metadata';
import { compileShapes } from '@lantern/contracts';
import { createApplication } from './app/application.js';
import { GatewayServer } from './doors/smtp/gateway.server.js';
import { DemoService } from './demo/demo.service.js';
import { PostOffice } from './stand-ins/outside-mail/post-office.js';
import { readConfig } from './platform/config.js';

/** Hands a word to the command that started the server, which shows it to the person. */
function tell(message: object): void {
  process.send?.(message);
}

try {
  const config = readConfig(process.env);
  const application = await createApplication(config);
  // The command that started it is gone, however it ended: nothing may stay behind on its port.
  process.once('disconnect', () => void application.close().finally(() => process.exit(0)));
  await application.init();
  const accounts = await application.get(DemoService).prepare(config.demo, (say) => tell({ say }));
  tell({ accounts, readerCode: application.get(DemoService).readerCode });
  if (config.standIns) await application.get(PostOffice).start();
  compileShapes();
  const gateway = application.get(GatewayServer);
  await gateway.start();
  if (!gateway.door.open)
    tell({
      say: `Port ${config.smtpPort} is in use, so the gateway cannot receive mail. To use another port: LANTERN_SMTP_PORT=4725 npm start`,
    });
  await application.listen(config.port, '127.0.0.1');
} catch (error) {
  process.stderr.write(`${error instanceof Error ? error.message : 'The server could not start.'}\n`);
  if (process.env['LANTERN_DEBUG'] && error instanceof Error) process.stderr.write(`${error.stack ?? ''}\n`);
  process.exit(1);
}

import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { DocumentBuilder, SwaggerModule } from '@nestjs/swagger';
import type { NextFunction, Request, Response } from 'express';
import helmet from 'helmet';
import { AppModule, type AppOptions } from './app.module';
import { databaseOptions } from './database/database.module';
import { refuseNewerData } from './database/newerData';
import { DemoService } from './demo/demo.service';
import { jsonBody } from './http/json-body.middleware';
import { onlyOwnHost } from './http/own-host.middleware';
import { withSchemas } from './http/describe';
import { ProblemFilter } from './http/problem.filter';

/**
 * Starts the server on loopback.
 * @param port 0 takes a free one. @returns the application and the port it listens on.
 */
export async function startApp(
  options: AppOptions & { readonly port: number; readonly withDemo: boolean },
): Promise<{ app: NestExpressApplication; port: number }> {
  await refuseNewerData(databaseOptions(options.databaseUrl));
  const app = await NestFactory.create<NestExpressApplication>(AppModule.with(options), {
    bodyParser: false,
    logger: ['error', 'warn'],
    abortOnError: false,
  });
  let port = options.port;
  app.disable('x-powered-by');
  app.use(onlyOwnHost(() => port));
  const [forDocs, forAll] = [securityHeaders({ docs: true }), securityHeaders({ docs: false })];
  app.use((request: Request, response: Response, next: NextFunction) =>
    (request.path.startsWith('/api/docs') ? forDocs : forAll)(request, response, next),
  );
  app.use(jsonBody);
  app.useGlobalFilters(new ProblemFilter());
  app.enableShutdownHooks();
  describeApi(app);
  if (options.withDemo) await app.get(DemoService, { strict: false }).loadIfEmpty();
  await app.listen(port, '127.0.0.1');
  // A server that listens on TCP has an address with a port.
  port = (app.getHttpServer().address() as { port: number }).port;
  return { app, port };
}

/** Only what this server itself sends may run; the API page needs styles of its own inside the page. */
function securityHeaders({ docs }: { docs: boolean }) {
  return helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        'default-src': ["'none'"],
        'script-src': docs ? ["'self'", "'unsafe-inline'"] : ["'self'"],
        // React and the drag library place things by style attributes; style elements stay forbidden.
        'style-src-elem': docs ? ["'self'", "'unsafe-inline'"] : ["'self'"],
        'style-src-attr': ["'unsafe-inline'"],
        'img-src': ["'self'", 'data:'],
        'font-src': ["'self'"],
        'connect-src': ["'self'"],
        'worker-src': ["'self'"],
        'manifest-src': ["'self'"],
        'base-uri': ["'none'"],
        'form-action': ["'none'"],
        'frame-ancestors': ["'none'"],
      },
    },
    strictTransportSecurity: false,
  });
}

function describeApi(app: NestExpressApplication): void {
  const config = new DocumentBuilder()
    .setTitle('Idle Step')
    .setDescription(
      'Rigs, presets, songs and sets. Channels are sent 0–15. A write names the version it was made from in If-Match; errors are application/problem+json (RFC 9457).',
    )
    .setVersion('1')
    .build();
  // Made when it is first asked for: few do, and it would take a third of a start.
  const document = () => withSchemas(SwaggerModule.createDocument(app, config));
  SwaggerModule.setup('api/docs', app, document, { jsonDocumentUrl: 'api/openapi.json' });
}

import { Controller, Get, Header, NotFoundException, Param } from '@nestjs/common';
import { ApiExcludeController } from '@nestjs/swagger';
import { PROBLEM, PROBLEM_PAGES } from '@idle-step/contract';
import { keysOf } from '@idle-step/core/sure';

/** A page behind each `type` of a problem document. Source: RFC 9457, section 3.1.1. */
@ApiExcludeController()
@Controller('problems')
export class ProblemsController {
  @Get(':name')
  @Header('content-type', 'text/html; charset=utf-8')
  page(@Param('name') name: string): string {
    const key = keysOf(PROBLEM).find((k) => PROBLEM[k] === `/problems/${name}`);
    if (!key) throw new NotFoundException();
    const { title, says } = PROBLEM_PAGES[key];
    return `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>${title} · Idle Step</title></head><body><h1>${title}</h1><p>${says}</p><p><a href="/">Idle Step</a></p></body></html>`;
  }
}

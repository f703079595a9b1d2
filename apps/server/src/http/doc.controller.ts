import { Delete, Get, HttpCode, Inject, Post, Put, Query, Res, type Type } from '@nestjs/common';
import { ApiBody, ApiHeader, ApiOperation, ApiQuery, ApiResponse, ApiTags } from '@nestjs/swagger';
import {
  keptSchema,
  RevisionNameSchema,
  RevisionSchema,
  type Kept,
  type Revision,
} from '@idle-step/contract';
import type { Response } from 'express';
import { z } from 'zod';
import type { DocStore } from '../keeping/keeper';
import { DocBody, FromVersion, IdParam, idOf, idsOf, VersionParam, versionOf } from './body';
import { openApi, Problems, tagged } from './describe';
import { jsonList, streamJson } from './stream';

type Doc = { id: string; name: string };

/**
 * HTTP for one kind of kept document: list, get, create, save over a version, delete, earlier saves.
 * HTTP only; every rule is in the keeper.
 */
export function DocController<D extends Doc>(
  schema: z.ZodType<D>,
  what: string,
  storeType: Type<DocStore<D>>,
) {
  const kept = openApi(keptSchema(schema));

  @ApiTags(what)
  abstract class Base {
    @Inject(storeType) private readonly store!: DocStore<D>;

    @Get()
    @ApiOperation({
      summary: `Every ${what}, by name; of one rig where \`rigId\` is given, or those in \`ids\`, with commas between`,
    })
    @ApiQuery({ name: 'rigId', required: false })
    @ApiQuery({ name: 'ids', required: false })
    @ApiResponse({ status: 200, ...openApi(z.array(keptSchema(schema))) })
    async list(
      @Res() response: Response,
      @Query('rigId') rigId?: string,
      @Query('ids') ids?: string,
    ): Promise<void> {
      if (ids !== undefined) response.json(await this.store.some(idsOf(ids)));
      else
        await streamJson(
          response,
          what,
          jsonList(this.store.list(rigId === undefined ? undefined : idOf(rigId, 'rigId'))),
        );
    }

    @Get(':id')
    @ApiOperation({ summary: `One ${what}; its version comes as ETag` })
    @ApiResponse({ status: 200, ...kept })
    @Problems([404, 'gone'])
    async get(@IdParam() id: string, @Res({ passthrough: true }) response: Response): Promise<Kept<D>> {
      return tagged(response, await this.store.get(id));
    }

    @Post()
    @ApiOperation({ summary: `Keep a new ${what}` })
    @ApiBody(openApi(schema))
    @ApiResponse({ status: 201, ...kept })
    @Problems([400, 'not JSON'], [409, 'there already'], [413, 'too large'], [422, 'not valid'])
    async create(
      @DocBody(schema, what) doc: D,
      @Res({ passthrough: true }) response: Response,
    ): Promise<Kept<D>> {
      return tagged(response, await this.store.create(doc));
    }

    @Put(':id')
    @ApiOperation({ summary: `Save a ${what} over the version named in If-Match` })
    @ApiHeader({ name: 'If-Match', required: true, description: 'ETag of the version this was made from' })
    @ApiQuery({
      name: 'inUse',
      required: false,
      description:
        '`take-out`: what this save removes is also taken out of the songs and presets that use it',
    })
    @ApiBody(openApi(schema))
    @ApiResponse({ status: 200, ...kept })
    @Problems(
      [404, 'gone'],
      [
        409,
        'saved elsewhere meanwhile (with what is kept), or something taken out is in use (with its users)',
      ],
      [413, 'too large'],
      [422, 'not valid'],
      [428, 'no If-Match'],
    )
    async save(
      @IdParam() id: string,
      @FromVersion(what) version: number,
      @DocBody(schema, what) doc: D,
      @Res({ passthrough: true }) response: Response,
      @Query('inUse') inUse?: string,
    ): Promise<Kept<D>> {
      return tagged(response, await this.store.save(id, version, doc, inUse === 'take-out'));
    }

    @Delete(':id')
    @HttpCode(204)
    @ApiOperation({ summary: `Delete a ${what}, refused while it is in use` })
    @ApiHeader({ name: 'If-Match', required: true })
    @Problems([404, 'gone'], [409, 'in use, or saved elsewhere meanwhile'], [428, 'no If-Match'])
    remove(@IdParam() id: string, @FromVersion(what) version: number): Promise<void> {
      return this.store.remove(id, version);
    }

    @Get(':id/revisions')
    @ApiOperation({ summary: `Saves of a ${what}, the newest first, in pages` })
    @ApiQuery({ name: 'before', required: false, description: 'only saves older than this version' })
    @ApiResponse({ status: 200, ...openApi(z.array(RevisionSchema)) })
    @Problems([404, 'gone'])
    revisions(@IdParam() id: string, @Query('before') before?: string): Promise<Revision[]> {
      return this.store.revisions(id, before === undefined ? null : versionOf(before));
    }

    @Put(':id/revisions/:version/name')
    @ApiOperation({ summary: 'Name a save, so that it stays; or take its name away with null' })
    @ApiBody(openApi(RevisionNameSchema))
    @ApiResponse({ status: 200, ...openApi(RevisionSchema) })
    @Problems([404, 'gone'], [422, 'not valid'])
    nameRevision(
      @IdParam() id: string,
      @VersionParam() version: number,
      @DocBody(RevisionNameSchema, 'name') { name }: z.infer<typeof RevisionNameSchema>,
    ): Promise<Revision> {
      return this.store.nameRevision(id, version, name);
    }

    @Get(':id/revisions/:version')
    @ApiOperation({ summary: `A ${what} as it was at one save; to restore it, save it again` })
    @ApiResponse({ status: 200, ...kept })
    @Problems([404, 'gone'])
    async revision(@IdParam() id: string, @VersionParam() version: number): Promise<Kept<D>> {
      const kept = await this.store.revision(id, version);
      // An old save may lack what was added since: the schema fills it in.
      const result = schema.safeParse(kept.doc);
      return result.success ? { ...kept, doc: result.data } : kept;
    }
  }
  return Base;
}

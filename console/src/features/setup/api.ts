import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query';
import { client, unwrap, type Schemas } from '../../shared/data/api';

export { applications, stages } from '../../shared/data/lists';

export type Site = Schemas['SiteView'];
export type Stage = Schemas['StageView'];
export type Connection = Schemas['ConnectionView'];

export const connections = (stage: string) =>
  queryOptions({
    queryKey: ['connections', stage],
    queryFn: () => unwrap(client.GET('/api/v1/connections', { params: { query: { stage } } })),
  });

/** An act of the set-up; what it touched is read anew. */
export function useSetUp<V>(act: (value: V) => Promise<unknown>, touched: string[], after?: () => void) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: act,
    onSuccess: async () => {
      await Promise.all(touched.map((key) => queries.invalidateQueries({ queryKey: [key] })));
      after?.();
    },
  });
}

export const rules = () => queryOptions({ queryKey: ['rules'], queryFn: () => unwrap(client.GET('/api/v1/rules')) });

export const saveStage = (stage: Stage) =>
  unwrap(client.PUT('/api/v1/stages/{key}', { params: { path: { key: stage.key } }, body: stage }));
export const saveConnection = ({ stage, body }: { stage: string; body: Schemas['SaveConnection'] }) =>
  unwrap(client.PUT('/api/v1/connections/{stage}/{name}', { params: { path: { stage, name: body.name } }, body }));
export const makeReady = ({ stage, name }: { stage: string; name: string }) =>
  unwrap(client.POST('/api/v1/connections/{stage}/{name}/ready', { params: { path: { stage, name } } }));
export const checkSite = ({ stage, site }: { stage: string; site: string }) =>
  unwrap(client.POST('/api/v1/sites/{stage}/{site}/check', { params: { path: { stage, site } } }));
export const savePath = (path: Schemas['PathView']) => unwrap(client.POST('/api/v1/paths', { body: path }));
export const changePath = (path: Schemas['PathView']) =>
  unwrap(client.PUT('/api/v1/paths/{key}', { params: { path: { key: path.key } }, body: path }));
export const newApplication = (app: Schemas['NewApplication']) =>
  unwrap(client.POST('/api/v1/applications', { body: app }));

/** Adds a site; one that is there is refused, and changed by an act of its own. */
export const newSite = (v: { stage: string; site: Schemas['SiteView'] }) =>
  unwrap(client.POST('/api/v1/stages/{key}/sites', { params: { path: { key: v.stage } }, body: v.site }));

/** Says anew which connections lead to the targets of a site: the whole list. */
export const changeSite = (v: { stage: string; site: Schemas['SiteView'] }) =>
  unwrap(
    client.PUT('/api/v1/stages/{key}/sites/{site}', {
      params: { path: { key: v.stage, site: v.site.key } },
      body: v.site,
    }),
  );

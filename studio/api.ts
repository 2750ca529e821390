import type { FillAction } from '@/server/shots/fillActions';
import type { DepthByPair } from '@/server/shots/depth';
import type { ShotState } from '@/server/shots/history';
import type { DepthEdit } from '@/core/depth/edits';
import type { Fault } from '@/core/depth/faults';
import type { FloatMeaning } from '@/core/depth/distance';
import type { DepthMake } from '@/core/depth/makers';
import type { Coverage } from '@/core/fill/coverage';
import type { Recipe } from '@/core/recipes';
import type { DocumentPatch } from '@/core/shot/document';
import type { RenderSummary } from '@/server/renders/renders';
import type { Filled } from '@/server/shots/fills';
import type { WorkLook } from '@/server/shots/longWork';
import type { BorderOrder } from '@/server/shots/border';
import type { Choice } from '@/core/matte/choice';
import type { Carries } from '@/server/shots/carryShot';
import type { FootageState } from '@/server/shots/footageState';
import type { PlateKeyAction } from '@/server/shots/plateKeys';
import type { DepthStep } from '@/server/shots/depthHistory';
import type { NetworkFile } from '@/server/network/networks';
import type { PlateAction } from '@/server/shots/plates';

export type { BorderOrder, FillAction, FootageState, PlateAction, RenderSummary, ShotState };

/** The user's own depth networks, and the folder that they are put into. */
export interface Networks {
  readonly folder: string;
  readonly networks: readonly NetworkFile[];
}

/** A network to be run for a plate's depth (null: the back plate's), fitted so closely to the picture's edges. */
interface NetworkOrder {
  readonly network: string;
  readonly edges: number;
  readonly plate: string | null;
}

/** What is done with versions of a depth map. */
export type VersionAction =
  | { readonly action: 'keep'; readonly plate: string | null; readonly name: string }
  | { readonly action: 'drop'; readonly kept: string }
  | { readonly action: 'take'; readonly plate: string | null; readonly revision: string };

/** An answer that says no, with its sentence; status 0 means that no answer came. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    /** Where the shot stands, where another window was faster. */
    readonly head?: number,
  ) {
    super(message);
  }
  /** True where trying again later may help: the server or its database is away. */
  get passing(): boolean {
    return this.status === 0 || this.status === 502 || this.status === 503;
  }
}

/** Which head a change builds on, and its own id. */
export interface ChangeAt {
  readonly expectedHead: number;
  readonly changeId: string;
  /** The frame of footage that it is made at. */
  readonly moment?: number;
}

/** A key of a film at the frame that a change is made at. */
export type FootageKey =
  | { readonly of: 'depth'; readonly action: 'set' | 'drop' }
  | { readonly of: 'plate'; readonly plate: string; readonly action: PlateKeyAction };

const AWAY = 'The server does not answer just now.';

async function call<T>(method: string, path: string, body?: unknown): Promise<T> {
  let answer: Response;
  try {
    answer = await fetch(path, {
      method,
      ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
    });
  } catch {
    throw new Refusal(0, 'away', AWAY);
  }
  if (answer.ok) return (answer.status === 204 ? undefined : await answer.json()) as T;
  const problem = (await answer.json().catch(() => undefined)) as
    { code?: string; title?: string; head?: number } | undefined;
  throw new Refusal(
    answer.status,
    problem?.code ?? 'unknown',
    problem?.title ?? `The server answered ${answer.status}.`,
  );
}

/** Sends a file with progress (0 to 1); what is sent can be stopped through `signal`. */
function send<T>(path: string, file: File, onProgress: (share: number) => void, signal?: AbortSignal): Promise<T> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open('POST', path);
    request.setRequestHeader('x-file-name', encodeURIComponent(file.name));
    request.setRequestHeader('content-type', 'application/octet-stream');
    request.upload.onprogress = (e) => {
      if (e.lengthComputable) onProgress(e.loaded / e.total);
    };
    request.onerror = () => {
      reject(new Refusal(0, 'away', `${file.name} did not arrive: the connection broke. Try again.`));
    };
    request.onabort = () => {
      reject(new Refusal(0, 'stopped', `${file.name} was not brought in: you stopped it.`));
    };
    request.onload = () => {
      let body: { code?: string; title?: string; head?: number } | undefined;
      try {
        body = JSON.parse(request.responseText) as typeof body;
      } catch {
        body = undefined;
      }
      if (request.status >= 200 && request.status < 300) resolve(body as T);
      else
        reject(
          new Refusal(
            request.status,
            body?.code ?? 'unknown',
            body?.title ?? `The server answered ${request.status}.`,
            body?.head,
          ),
        );
    };
    signal?.addEventListener('abort', () => {
      request.abort();
    });
    request.send(file);
  });
}

/** A depth picture that is brought in, and how it is meant. */
export interface DepthFile {
  readonly file: File;
  readonly near: 'white' | 'black';
  readonly mend: boolean;
  /** What the numbers are of a file that holds floats. */
  readonly floats: FloatMeaning;
  /** Null: the back plate's. */
  readonly plate: string | null;
  onProgress(share: number): void;
}

const queryOf = (words: object): string =>
  new URLSearchParams(Object.entries(words).map(([name, value]) => [name, String(value)])).toString();

/** Which depth map is meant: a plate's (null: the back plate's), of footage at a frame. */
export interface MapSeen {
  readonly plate: string | null;
  readonly moment: number | undefined;
}

export const mapQuery = ({ plate, moment }: MapSeen): string =>
  queryOf({ ...(plate === null ? {} : { plate }), ...(moment === undefined ? {} : { moment }) });

export const api = {
  createProject: (name: string) => call<{ id: string }>('POST', '/api/projects', { name }),
  changeProject: (id: string, change: { name?: string; putAway?: boolean }) =>
    call<void>('PATCH', `/api/projects/${id}`, change),
  changeShot: (id: string, change: { name?: string; putAway?: boolean }) =>
    call<void>('PATCH', `/api/shots/${id}`, change),
  bringIn: (projectId: string, file: File, onProgress: (share: number) => void, signal?: AbortSignal) =>
    send<{ id: string }>(`/api/projects/${projectId}/shots`, file, onProgress, signal),
  shot: (id: string) => call<{ shot: ShotState; renders: RenderSummary[] }>('GET', `/api/shots/${id}`),
  change: (id: string, at: ChangeAt, label: string, patch: DocumentPatch) =>
    call<ShotState>('POST', `/api/shots/${id}/document`, { ...at, label, patch }),
  edit: (id: string, at: ChangeAt, edit: DepthEdit, target: { plate: string | null; behind: boolean }) =>
    call<ShotState>('POST', `/api/shots/${id}/depth/edit`, { ...at, ...target, edit }),
  makeDepth: (id: string, at: ChangeAt, make: DepthMake, plate: string | null) =>
    call<ShotState>('POST', `/api/shots/${id}/depth/make`, { ...at, plate, make }),
  plates: (id: string, at: ChangeAt, act: PlateAction) =>
    call<ShotState>('POST', `/api/shots/${id}/plates`, { ...at, act }),
  fill: (id: string, at: ChangeAt, act: FillAction) => call<Filled>('POST', `/api/shots/${id}/fill`, { ...at, act }),
  readyToFill: (id: string) => call<void>('POST', `/api/shots/${id}/fill/ready`),
  coverage: (id: string, views: number) => call<Coverage>('GET', `/api/shots/${id}/border?views=${views}`),
  extendBorder: (id: string, at: ChangeAt, border: BorderOrder) =>
    call<ShotState>('POST', `/api/shots/${id}/border`, { ...at, border }),
  work: (id: string) =>
    call<{ work: { name: string; share: number; look: WorkLook | null } | null }>('GET', `/api/shots/${id}/work`),
  stopWork: (id: string) => call<void>('DELETE', `/api/shots/${id}/work`),
  importPlates: (id: string, at: ChangeAt, file: File, onProgress: (share: number) => void) =>
    send<ShotState>(`/api/shots/${id}/plates/import?${queryOf(at)}`, file, onProgress),
  /** Plates of other shots that could be brought in. */
  platesElsewhere: (id: string) =>
    call<{ shots: { id: string; name: string; plates: { id: string; name: string }[] }[] }>(
      'GET',
      `/api/shots/${id}/plates/elsewhere`,
    ),
  history: (id: string, at: ChangeAt, action: 'undo' | 'redo') =>
    call<ShotState>('POST', `/api/shots/${id}/history`, { ...at, action }),
  importDepth: (id: string, at: ChangeAt, { file, near, mend, floats, plate, onProgress }: DepthFile) =>
    send<ShotState>(
      `/api/shots/${id}/depth/import?${queryOf({ ...at, near, mend: mend ? 'yes' : 'no', values: floats.kind, ...(floats.kind === 'depth' ? {} : { nearest: floats.near, farthest: floats.far }), ...(plate === null ? {} : { plate }) })}`,
      file,
      onProgress,
    ),
  depthFaults: (id: string, seen: MapSeen) =>
    call<{ faults: Fault[] }>('GET', `/api/shots/${id}/depth/faults?${mapQuery(seen)}`),
  depthSteps: (id: string, seen: MapSeen) =>
    call<{ steps: DepthStep[] }>('GET', `/api/shots/${id}/depth/steps?${mapQuery(seen)}`),
  depthVersions: (id: string, at: ChangeAt, act: VersionAction) =>
    call<ShotState>('POST', `/api/shots/${id}/depth/versions`, { ...at, act }),
  networks: () => call<Networks>('GET', '/api/networks'),
  networkDepth: (id: string, at: ChangeAt, order: NetworkOrder) =>
    call<ShotState>('POST', `/api/shots/${id}/depth/network`, { ...at, ...order }),
  depthByMotion: (id: string, at: ChangeAt) => call<ShotState>('POST', `/api/shots/${id}/depth/motion`, at),
  depthByPair: (id: string, at: ChangeAt, file: File, onProgress: (share: number) => void) =>
    send<DepthByPair>(`/api/shots/${id}/depth/pair?${queryOf(at)}`, file, onProgress),
  footage: (id: string) => call<FootageState>('GET', `/api/shots/${id}/footage`),
  footageKey: (id: string, at: ChangeAt, key: FootageKey) =>
    call<ShotState>('POST', `/api/shots/${id}/footage/key`, { ...at, key }),
  plateChoice: (id: string, plate: string, moment: number | undefined) =>
    call<Choice>('GET', `/api/shots/${id}/plates/choice?${mapQuery({ plate, moment })}`),
  splitFootage: (id: string) => call<{ ids: string[] }>('POST', `/api/shots/${id}/footage/split`),
  carry: (id: string, what: Carries) =>
    call<{ carried: number }>('POST', `/api/shots/${id}/footage/carry?what=${what}`),
  render: (id: string, recipe: Recipe, moment: number) =>
    call<{ id: string }>('POST', `/api/shots/${id}/renders${moment > 0 ? `?moment=${moment}` : ''}`, recipe),
  actOnRender: (id: string, action: 'stop' | 'retry' | 'remove') =>
    call<void>('POST', `/api/renders/${id}`, { action }),
};

// The one place that talks to the server: a function a route, status always checked.
import createClient from 'openapi-fetch'
import { ref } from 'vue'
import type { paths } from './schema'
import type {
  Answers,
  Question,
  BrickEdit,
  BuildSummary,
  CellQuery,
  CellSheet,
  CellState,
  CellWindow,
  Fault,
  GroupingRequest,
  HandOnSheet,
  Happened,
  ImportAnswer,
  ImportQuery,
  Item,
  Job,
  JobState,
  Judged,
  KeptPhoto,
  Layout,
  ListQuery,
  Listing,
  LoadReading,
  LogImport,
  LogQuery,
  Lot,
  LotInspection,
  LotSummary,
  MeanDraw,
  Meter,
  OpenBuild,
  OpenPack,
  OpenPlan,
  OwnCellAnswer,
  ToldDischarge,
  PackCard,
  PackEntry,
  PackRow,
  PairedBrowser,
  PartEntry,
  PartFile,
  PartsImport,
  Plan,
  PlanSummary,
  Point,
  Problem,
  Recharge,
  Reference,
  Reservation,
  RevisionSummary,
  RunReport,
  PartKind,
  StartsAt,
  Sweep,
  Swept,
  ReadFigure,
  Wishes,
  TesterRun,
  TypedReadings,
  Unit,
  SavePlan,
  Sheet,
  Shown,
  Way,
  WhatIf,
} from './types'

// Looked up at each call, so that a test can stand in between.
const http = createClient<paths>({ baseUrl: '/', fetch: (request) => globalThis.fetch(request) })

/** An answer, or the problem that stood in its way. */
export type Answer<T> = { ok: true; value: T } | { ok: false; problem: Problem }

const away: Problem = {
  status: 0,
  title: 'Dense Brick does not answer',
  detail: 'The program may have been stopped. Your work stays on this page; start it again and go on.',
  errors: [],
}

/** Whether the program wants this browser to be paired first. */
export const unpaired = ref(false)

/** How long a save waits for its answer. Then it is sent again; its key makes that safe. */
const SAVE_MS = 20_000
const withinTime = (): { signal: AbortSignal } => ({ signal: AbortSignal.timeout(SAVE_MS) })
/** Pauses before what was not answered is sent again. */
const AGAIN_MS = [1000, 3000]

/** Sends what carries a key again while the program or its database is away. */
async function again<T>(call: () => Promise<Answer<T>>): Promise<Answer<T>> {
  for (const pause of AGAIN_MS) {
    const found = await call()
    if (found.ok || (found.problem.status !== 0 && found.problem.status !== 503)) return found
    await new Promise((resolve) => setTimeout(resolve, pause))
  }
  return call()
}

/** A file as the body of a request: sent as it is, its shape is judged by core. */
const asFile = { bodySerializer: (file: unknown) => file as Blob }
const asText = { bodySerializer: (text: unknown) => text as string }

async function answer<T>(
  call: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<Answer<T>> {
  try {
    const { data, error, response } = await call
    if (response.ok) return { ok: true, value: data as T }
    if (response.status === 401) unpaired.value = true
    return { ok: false, problem: isProblem(error) ? error : { ...away, status: response.status } }
  } catch {
    return { ok: false, problem: away }
  }
}

function isProblem(error: unknown): error is Problem {
  return typeof error === 'object' && error !== null && 'title' in error && 'detail' in error
}

export const api = {
  reference: (): Promise<Answer<Reference>> => answer(http.GET('/api/reference')),
  answers: (plan: Plan, edit: number, questions: Question[]): Promise<Answer<Answers>> =>
    answer(http.POST('/api/answers', { body: { plan, edit, questions } })),
  parts: (): Promise<Answer<Item[]>> => answer(http.GET('/api/parts')),
  addPart: (entry: PartEntry): Promise<Answer<Item>> => answer(http.POST('/api/parts', { body: entry })),
  changePart: (part: string, entry: PartEntry): Promise<Answer<Item>> =>
    answer(http.PUT('/api/parts/{part}', { params: { path: { part } }, body: entry })),
  removePart: (part: string): Promise<Answer<unknown>> =>
    answer(http.DELETE('/api/parts/{part}', { params: { path: { part } } })),
  restorePart: (part: string): Promise<Answer<unknown>> =>
    answer(http.POST('/api/parts/{part}/restore', { params: { path: { part } } })),
  importParts: (text: string): Promise<Answer<PartsImport>> =>
    answer(http.POST('/api/parts-import', { body: text, ...asText })),
  listing: (text: string, sold: PartKind | null): Promise<Answer<Listing>> =>
    answer(http.POST('/api/listing', { body: { text, sold } })),
  run: (
    plan: Plan,
    variants: WhatIf[],
    starts: StartsAt,
    recorded: string | null,
  ): Promise<Answer<RunReport>> =>
    answer(http.POST('/api/run', { body: { plan, variants, starts, recorded } })),
  ownCell: (
    plan: Plan,
    first: ToldDischarge,
    second: ToldDischarge | null,
    cell_c: number,
  ): Promise<Answer<OwnCellAnswer>> =>
    answer(http.POST('/api/own-cell', { body: { plan, ...first, second, cell_c } })),
  runMap: (plan: Plan, sweep: Sweep, recorded: string | null): Promise<Answer<Swept>> =>
    answer(http.POST('/api/run-map', { body: { plan, sweep, recorded } })),
  quantity: (text: string, range: string): Promise<Answer<ReadFigure>> =>
    answer(http.POST('/api/quantity', { body: { text, range } })),
  plans: (query: ListQuery = {}): Promise<Answer<PlanSummary[]>> =>
    answer(http.GET('/api/plans', { params: { query } })),
  newPlan: (name: string, job: Job | null, currency: string): Promise<Answer<OpenPlan>> =>
    answer(http.POST('/api/plans', { body: { name, job, currency } })),
  importPlan: (text: string): Promise<Answer<OpenPlan>> =>
    answer(http.POST('/api/plans/import', { body: text as never, ...asText })),
  duplicate: (id: string): Promise<Answer<OpenPlan>> =>
    answer(http.POST('/api/plans/{id}/duplicate', { params: { path: { id } } })),
  plan: (id: string): Promise<Answer<OpenPlan>> =>
    answer(http.GET('/api/plans/{id}', { params: { path: { id } } })),
  save: (id: string, save: SavePlan): Promise<Answer<OpenPlan>> =>
    answer(http.PUT('/api/plans/{id}', { params: { path: { id } }, body: save, ...withinTime() })),
  revisions: (id: string): Promise<Answer<RevisionSummary[]>> =>
    answer(http.GET('/api/plans/{id}/revisions', { params: { path: { id } } })),
  revision: (id: string, number: number): Promise<Answer<Plan>> =>
    answer(http.GET('/api/plans/{id}/revisions/{number}', { params: { path: { id, number } } })),
  remove: (id: string): Promise<Answer<unknown>> =>
    answer(http.DELETE('/api/plans/{id}', { params: { path: { id } } })),
  restore: (id: string): Promise<Answer<unknown>> =>
    answer(http.POST('/api/plans/{id}/restore', { params: { path: { id } } })),
  restoreBackup: (file: File): Promise<Answer<{ plans: number }>> =>
    answer(http.POST('/api/restore', { body: file as never, ...asFile })),
  loadLog: (text: string, query: LogQuery): Promise<Answer<LoadReading>> =>
    answer(http.POST('/api/load-log', { body: text, params: { query }, ...asText })),
  reading: (meter: Meter, reading: number, unit: Unit): Promise<Answer<Judged>> =>
    answer(http.POST('/api/reading', { body: { meter, reading, unit } })),
  keepPhoto: (file: File): Promise<Answer<KeptPhoto>> =>
    answer(
      http.POST('/api/photos', {
        body: file as never,
        bodySerializer: (picture: unknown) => picture as File,
      }),
    ),
  recharge: (recharge: Recharge): Promise<Answer<MeanDraw>> =>
    answer(http.POST('/api/recharge', { body: recharge })),
  ways: (meters: Meter[], current_a: number, pack_v: number | null): Promise<Answer<Way[]>> =>
    answer(http.POST('/api/ways', { body: { meters, current_a, pack_v } })),
  lots: (): Promise<Answer<LotSummary[]>> => answer(http.GET('/api/stock/lots')),
  lot: (id: string): Promise<Answer<LotInspection>> =>
    answer(http.GET('/api/stock/lots/{id}', { params: { path: { id } } })),
  newLot: (lot: Lot, labels: string): Promise<Answer<LotSummary>> =>
    answer(http.POST('/api/stock/lots', { body: { lot, labels } })),
  changeLot: (id: string, lot: Lot, labels: string): Promise<Answer<LotSummary>> =>
    answer(http.PUT('/api/stock/lots/{id}', { params: { path: { id } }, body: { lot, labels } })),
  removeLot: (id: string): Promise<Answer<unknown>> =>
    answer(http.DELETE('/api/stock/lots/{id}', { params: { path: { id } } })),
  restoreLot: (id: string): Promise<Answer<unknown>> =>
    answer(http.POST('/api/stock/lots/{id}/restore', { params: { path: { id } } })),
  cells: (query: CellQuery): Promise<Answer<CellWindow>> =>
    answer(http.GET('/api/stock/cells', { params: { query } })),
  points: (lot?: string): Promise<Answer<Point[]>> =>
    answer(http.GET('/api/stock/points', { params: { query: { lot } } })),
  cell: (id: string): Promise<Answer<CellSheet>> =>
    answer(http.GET('/api/stock/cells/{id}', { params: { path: { id } } })),
  lookAtCell: (id: string, faults: Fault[] | null, keep_with: string | null): Promise<Answer<CellSheet>> =>
    answer(http.PUT('/api/stock/cells/{id}', { params: { path: { id } }, body: { faults, keep_with } })),
  typeReadings: (readings: TypedReadings): Promise<Answer<unknown>> =>
    again(() => answer(http.POST('/api/stock/readings', { body: readings, ...withinTime() }))),
  strikeReading: (id: string): Promise<Answer<unknown>> =>
    answer(http.DELETE('/api/stock/readings/{id}', { params: { path: { id } } })),
  restoreReading: (id: string): Promise<Answer<unknown>> =>
    answer(http.POST('/api/stock/readings/{id}/restore', { params: { path: { id } } })),
  changeStates: (cells: string[], state: CellState, note: string): Promise<Answer<unknown>> =>
    answer(http.POST('/api/stock/states', { body: { cells, state, note } })),
  importCells: (text: string, query: ImportQuery): Promise<Answer<ImportAnswer>> =>
    answer(http.POST('/api/stock/import', { body: text, params: { query }, ...asText })),
  groupCells: (request: GroupingRequest): Promise<Answer<JobState>> =>
    answer(http.POST('/api/stock/grouping', { body: request })),
  reserveCells: (reservation: Reservation): Promise<Answer<OpenPlan>> =>
    answer(http.POST('/api/stock/reservations', { body: reservation })),
  measureCells: (run: TesterRun): Promise<Answer<JobState>> =>
    answer(http.POST('/api/tester/runs', { body: run })),
  stopJob: (id: string): Promise<Answer<unknown>> =>
    answer(http.DELETE('/api/jobs/{id}', { params: { path: { id } } })),
  editBrick: (plan: Plan, edit: BrickEdit): Promise<Answer<Layout>> =>
    answer(http.POST('/api/brick/edit', { body: { plan, edit } })),
  propose: (plan: Plan, id: string | null, wishes: Wishes): Promise<Answer<JobState>> =>
    answer(http.POST('/api/propose', { body: { plan, id, wishes } })),
  searchBrick: (plan: Plan, seed: number, thorough: boolean): Promise<Answer<JobState>> =>
    answer(http.POST('/api/brick/search', { body: { plan, seed, thorough } })),
  partFiles: (id: string): Promise<Answer<PartFile[]>> =>
    answer(http.GET('/api/plans/{id}/files', { params: { path: { id } } })),
  sheets: (id: string): Promise<Answer<Sheet[]>> =>
    answer(http.GET('/api/plans/{id}/sheets', { params: { path: { id } } })),
  pair: (code: string): Promise<Answer<unknown>> => answer(http.POST('/api/pair', { body: { code } })),
  pairedBrowsers: (): Promise<Answer<PairedBrowser[]>> => answer(http.GET('/api/paired')),
  putOut: (id: string): Promise<Answer<unknown>> =>
    answer(http.DELETE('/api/paired/{id}', { params: { path: { id } } })),
  builds: (plan: string): Promise<Answer<BuildSummary[]>> =>
    answer(http.GET('/api/plans/{id}/builds', { params: { path: { id: plan } } })),
  beginBuild: (plan: string): Promise<Answer<OpenBuild>> =>
    answer(http.POST('/api/plans/{id}/builds', { params: { path: { id: plan } } })),
  build: (id: string): Promise<Answer<OpenBuild>> =>
    answer(http.GET('/api/builds/{id}', { params: { path: { id } } })),
  happened: (id: string, happened: Happened): Promise<Answer<OpenBuild>> =>
    answer(
      http.POST('/api/builds/{id}/events', { params: { path: { id } }, body: happened, ...withinTime() }),
    ),
  followNewest: (id: string): Promise<Answer<OpenBuild>> =>
    answer(http.POST('/api/builds/{id}/newest', { params: { path: { id } } })),
  packs: (): Promise<Answer<PackRow[]>> => answer(http.GET('/api/packs')),
  pack: (id: string): Promise<Answer<OpenPack>> =>
    answer(http.GET('/api/packs/{id}', { params: { path: { id } } })),
  newPack: (card: PackCard): Promise<Answer<OpenPack>> => answer(http.POST('/api/packs', { body: { card } })),
  packOfBuild: (build: string): Promise<Answer<OpenPack>> =>
    answer(http.POST('/api/builds/{id}/pack', { params: { path: { id: build } } })),
  importPack: (text: string): Promise<Answer<OpenPack>> =>
    answer(http.POST('/api/packs/file', { body: text, ...asText })),
  changeCard: (id: string, revision: number, card: PackCard): Promise<Answer<OpenPack>> =>
    answer(http.PUT('/api/packs/{id}/card', { params: { path: { id } }, body: { revision, card } })),
  keepEntry: (id: string, key: string, entry: PackEntry): Promise<Answer<OpenPack>> =>
    again(() =>
      answer(
        http.POST('/api/packs/{id}/entries', {
          params: { path: { id } },
          body: { key, entry },
          ...withinTime(),
        }),
      ),
    ),
  importLog: (id: string, text: string): Promise<Answer<LogImport>> =>
    answer(http.POST('/api/packs/{id}/entries-file', { params: { path: { id } }, body: text, ...asText })),
  removePack: (id: string): Promise<Answer<unknown>> =>
    answer(http.DELETE('/api/packs/{id}', { params: { path: { id } } })),
  restorePack: (id: string): Promise<Answer<unknown>> =>
    answer(http.POST('/api/packs/{id}/restore', { params: { path: { id } } })),
  handOn: (id: string, origin: string): Promise<Answer<HandOnSheet>> =>
    answer(http.GET('/api/packs/{id}/hand-on', { params: { path: { id }, query: { origin } } })),
  loadDemo: (): Promise<Answer<{ loaded: boolean }>> => answer(http.POST('/api/demo')),
}

/** Addresses that the browser fetches as files. */
export const files = {
  plan: (id: string): string => `/api/plans/${id}/file`,
  sheet: (id: string, name: string): string => `/api/plans/${id}/sheets/${name}`,
  part: (id: string, name: string): string => `/api/plans/${id}/files/${name}`,
  bill: (id: string): string => `/api/plans/${id}/bill-file`,
  run: (id: string): string => `/api/plans/${id}/run-file`,
  diagram: (id: string, shown: Shown): string => {
    const asked = Object.entries(shown).filter(([, value]) => value != null)
    return `/api/plans/${id}/diagram-file?${new URLSearchParams(asked.map(([k, v]) => [k, String(v)]))}`
  },
  backup: '/api/backup',
  parts: '/api/parts-file',
  cells: (lot: string | null): string => `/api/stock/cells-file${lot ? `?lot=${lot}` : ''}`,
  readings: (lot: string | null): string => `/api/stock/readings-file${lot ? `?lot=${lot}` : ''}`,
  buildNews: (id: string): string => `/api/builds/${id}/watch`,
  build: (id: string): string => `/api/builds/${id}/file`,
  packLog: (id: string): string => `/api/packs/${id}/entries-file`,
  pack: (id: string): string => `/api/packs/${id}/file`,
  packCalendar: (id: string): string => `/api/packs/${id}/due.ics`,
  calendar: '/api/packs/due.ics',
  jobEvents: (id: string): string => `/api/jobs/${id}/events`,
  photo: (sha256: string): string => `/api/photos/${sha256}`,
}

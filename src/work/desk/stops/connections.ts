import { readTable } from '../../../connect/files';
import { columnsOfExample, type ListingFileColumn } from '../../../core/lists';
import { work } from '../../browser/browser';
import {
  buyersOfOrders,
  saveBuyers,
  saveFees,
  saveKeptOff,
  saveSupplierCosts,
} from '../../connections/connection-terms';
import {
  acceptSite,
  connectSupplier,
  keepListSupplier,
  optIn,
  pause,
  renameConnection,
} from '../../connections/connections';
import { endConsent, startConsent } from '../../connections/consents';
import { disconnect } from '../../connections/disconnect';
import { allConnections, allHealth } from '../../connections/known';
import { listingFile } from '../../connections/listing-file';
import {
  dispatchFile,
  keepFileColumns,
  keepFileMarket,
  takeAnswerFile,
  takeSalesFile,
  waitingCounts,
} from '../../connections/market-files';
import { answeredText, provoke } from '../../connections/provoke';
import { runnerError } from '../../jobs/runner-error';
import { readTerms } from '../../memory/read-shop';
import { feeCheck } from '../../order-book/fee-check';
import { countWaiting } from '../../outbox/waiting';
import { lastRefused } from '../../readings/dropped-lists';
import { allJobs, jobsById } from '../../schedule/job';
import { runNow, setPaused, setTiming, stopJob } from '../../schedule/schedule';
import { bound } from '../bound';
import { distinct, stored } from '../feed';

/** Questions and acts of Connections: services, shops by files, their terms and jobs. */
export const connectionsDesk = {
  /** The columns of an example of a shop's listing file, each with a guess at what it holds. */
  columnsOfFile: async (
    file: File,
  ): Promise<
    | { readonly ok: true; readonly columns: readonly ListingFileColumn[] }
    | { readonly ok: false; readonly reason: string }
  > => {
    const table = await readTable(file, file.name);
    if (!table.ok) return table;
    const columns = columnsOfExample(table.value.rows.map((r) => r.cells));
    return columns
      ? { ok: true, columns }
      : { ok: false, reason: `“${file.name}” has no header row with up to 200 columns.` };
  },
  dispatchFile: bound(dispatchFile),
  listingFile: bound(listingFile),
  renameConnection: bound(renameConnection),
  keepFileColumns: bound(keepFileColumns),
  takeAnswerFile: bound(takeAnswerFile),
  takeSalesFile: bound(takeSalesFile),
  acceptSite: bound(acceptSite),
  optIn: bound(optIn),
  buyersOfOrders: bound(buyersOfOrders),
  saveBuyers: bound(saveBuyers),
  saveKeptOff: bound(saveKeptOff),
  saveFees: bound(saveFees),
  saveSupplierCosts: bound(saveSupplierCosts),
  feeCheck: bound(feeCheck),
  connectSupplier: bound(connectSupplier),
  keepListSupplier: bound(keepListSupplier),
  keepFileMarket: bound(keepFileMarket),
  startConsent: bound(startConsent),
  /** Ends a consent with what the marketplace gave the address that one came back to. */
  endConsent: (query: string) => endConsent(work, new URLSearchParams(query)),
  pause: bound(pause),
  disconnect: bound(disconnect),
  provoke: bound(provoke),
  answeredText: bound(answeredText),
  runNow: bound(runNow),
  stopJob: bound(stopJob),
  setPaused: bound(setPaused),
  setTiming: bound(setTiming),
};

export const connectionsFeeds = {
  /** The inputs of every price, tax and fee; told again when one of them changes. */
  terms: distinct(
    stored((w) => readTerms(w.db, w.clock())),
    ({ settings, plans, connections, rates, templates, groups }) =>
      JSON.stringify([settings, plans, [...connections], [...rates.by], [...templates], groups]),
  ),
  /** All connections and how each stands. */
  connections: stored(async (w) => ({
    connections: await allConnections(w),
    health: await allHealth(w),
    jobs: await allJobs(w),
    refused: (await lastRefused(w.db)).flatMap((r) =>
      r.refused.slice(0, 200).map((one) => ({ ...one, connection: r.supplier })),
    ),
  })),
  /** The running job and the next ones. */
  running: stored(async (w) => ({
    jobs: await allJobs(w),
    connections: new Map((await allConnections(w)).map((c) => [c.id, c])),
    /** Names of feeds, whose jobs are their own. */
    feeds: new Map((await w.db.feeds.toArray()).map((f) => [f.id, f.name])),
    health: await allHealth(w),
    error: await runnerError(w),
  })),
  allJobs: stored(allJobs),
  jobs: stored(jobsById),
  /** Whether a job that runs was asked to stop; told with each change of jobs. */
  stopping: stored(async (w) => (await allJobs(w)).some((j) => j.stop && j.running !== null)),
  waitingFiles: stored(waitingCounts),
  onItsWay: stored((w, connection: string) => countWaiting(w.db, connection)),
};

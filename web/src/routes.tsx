import {
  createRootRoute,
  createRoute,
  createRouter,
  lazyRouteComponent,
  type RouterHistory,
} from "@tanstack/react-router";
import { Books } from "./Books";
import {
  readAtticSearch,
  readFirstWeekSearch,
  readReportSearch,
  readWordsSearch,
  readJournalSearch,
  readKeysSearch,
  readOfferSearch,
  readRegisterSearch,
  readYoursSearch,
} from "./search";

const root = createRootRoute({ notFoundComponent: NotFound });
const signIn = createRoute({
  getParentRoute: () => root,
  path: "/sign-in",
  validateSearch: (search): { to?: string } => (typeof search.to === "string" ? { to: search.to } : {}),
  component: lazyRouteComponent(() => import("./signin/SignInPage"), "SignInPage"),
});
const books = createRoute({ getParentRoute: () => root, id: "books", component: Books });
const register = createRoute({
  getParentRoute: () => books,
  path: "/",
  validateSearch: readRegisterSearch,
  component: lazyRouteComponent(() => import("./register/RegisterPage"), "RegisterPage"),
});
const folio = createRoute({
  getParentRoute: () => books,
  path: "/sites/$site",
  component: lazyRouteComponent(() => import("./folio/FolioPage"), "FolioPage"),
});
const journal = createRoute({
  getParentRoute: () => books,
  path: "/journal",
  validateSearch: readJournalSearch,
  component: lazyRouteComponent(() => import("./journal/JournalPage"), "JournalPage"),
});

const link = createRoute({
  getParentRoute: () => root,
  path: "/l/$token",
  component: lazyRouteComponent(() => import("./signin/LinkPage"), "LinkPage"),
});
const desk = createRoute({
  getParentRoute: () => books,
  path: "/desk",
  component: lazyRouteComponent(() => import("./desk/DeskPage"), "DeskPage"),
});
const approval = createRoute({
  getParentRoute: () => books,
  path: "/approvals/$approval",
  component: lazyRouteComponent(() => import("./desk/ApprovalPage"), "ApprovalPage"),
});
const batch = createRoute({
  getParentRoute: () => books,
  path: "/batches/$batch",
  component: lazyRouteComponent(() => import("./batches/BatchPage"), "BatchPage"),
});
const person = createRoute({
  getParentRoute: () => books,
  path: "/people/$person",
  component: lazyRouteComponent(() => import("./people/PersonPage"), "PersonPage"),
});
const keys = createRoute({
  getParentRoute: () => books,
  path: "/keys",
  validateSearch: readKeysSearch,
  component: lazyRouteComponent(() => import("./keys/KeysPage"), "KeysPage"),
});
const handOver = createRoute({
  getParentRoute: () => books,
  path: "/sites/$site/hand-over",
  component: lazyRouteComponent(() => import("./keys/HandOverPage"), "HandOverPage"),
});
const offer = createRoute({
  getParentRoute: () => books,
  path: "/offers/$offer",
  validateSearch: readOfferSearch,
  component: lazyRouteComponent(() => import("./keys/OfferPage"), "OfferPage"),
});
const attic = createRoute({
  getParentRoute: () => books,
  path: "/attic",
  validateSearch: readAtticSearch,
  component: lazyRouteComponent(() => import("./attic/AtticPage"), "AtticPage"),
});
const putAway = createRoute({
  getParentRoute: () => books,
  path: "/sites/$site/put-away",
  component: lazyRouteComponent(() => import("./attic/PutAwayPage"), "PutAwayPage"),
});
const peopleList = createRoute({
  getParentRoute: () => books,
  path: "/sources/people",
  component: lazyRouteComponent(() => import("./sources/PeopleListPage"), "PeopleListPage"),
});
const accounts = createRoute({
  getParentRoute: () => books,
  path: "/accounts",
  component: lazyRouteComponent(() => import("./accounts/AccountsPage"), "AccountsPage"),
});
const sources = createRoute({
  getParentRoute: () => books,
  path: "/sources",
  component: lazyRouteComponent(() => import("./sources/SourcesPage"), "SourcesPage"),
});
const list = createRoute({
  getParentRoute: () => books,
  path: "/sources/$name/list",
  component: lazyRouteComponent(() => import("./sources/ListPage"), "ListPage"),
});
const hand = createRoute({
  getParentRoute: () => books,
  path: "/sources/by-hand",
  validateSearch: (search): { host?: string } => (typeof search.host === "string" ? { host: search.host } : {}),
  component: lazyRouteComponent(() => import("./sources/HandKeptPage"), "HandKeptPage"),
});
const firstWeek = createRoute({
  getParentRoute: () => books,
  path: "/first-week",
  validateSearch: readFirstWeekSearch,
  component: lazyRouteComponent(() => import("./first-week/FirstWeekPage"), "FirstWeekPage"),
});
const words = createRoute({
  getParentRoute: () => books,
  path: "/words",
  validateSearch: readWordsSearch,
  component: lazyRouteComponent(() => import("./words/WordsPage"), "WordsPage"),
});
const calendar = createRoute({
  getParentRoute: () => books,
  path: "/calendar",
  component: lazyRouteComponent(() => import("./calendar/CalendarPage"), "CalendarPage"),
});
const reports = createRoute({
  getParentRoute: () => books,
  path: "/reports",
  component: lazyRouteComponent(() => import("./reports/ReportsPage"), "ReportsPage"),
});
const report = createRoute({
  getParentRoute: () => books,
  path: "/reports/$report",
  validateSearch: readReportSearch,
  component: lazyRouteComponent(() => import("./reports/ReportPage"), "ReportPage"),
});
const handOrder = createRoute({
  getParentRoute: () => books,
  path: "/by-hand/$order",
  component: lazyRouteComponent(() => import("./by-hand/HandOrderPage"), "HandOrderPage"),
});
const yours = createRoute({
  getParentRoute: () => books,
  path: "/yours",
  validateSearch: readYoursSearch,
  component: lazyRouteComponent(() => import("./yours/YoursPage"), "YoursPage"),
});
const clock = createRoute({
  getParentRoute: () => books,
  path: "/demo-clock",
  component: lazyRouteComponent(() => import("./demo/ClockPage"), "ClockPage"),
});

const routeTree = root.addChildren([
  signIn,
  link,
  books.addChildren([
    register,
    desk,
    approval,
    batch,
    person,
    keys,
    handOver,
    offer,
    attic,
    putAway,
    sources,
    accounts,
    peopleList,
    list,
    hand,
    handOrder,
    firstWeek,
    words,
    calendar,
    reports,
    report,
    yours,
    folio,
    journal,
    clock,
  ]),
]);

/** Every page by its address. Each book is loaded when it is opened. */
// Strict: a page sees of the address only what it has read, whatever else somebody wrote there.
export const makeRouter = (history?: RouterHistory) =>
  createRouter({ routeTree, search: { strict: true }, ...(history && { history }) });

declare module "@tanstack/react-router" {
  interface Register {
    router: ReturnType<typeof makeRouter>;
  }
}

function NotFound() {
  return (
    <main className="p-8">
      <h1 className="text-[20px]">There is no such page</h1>
      <p className="mt-2">
        <a className="underline" href="/">
          To the register
        </a>
      </p>
    </main>
  );
}

import {
  createRootRoute,
  createRoute,
  createRouter,
  lazyRouteComponent,
  type RouterHistory,
} from "@tanstack/react-router";
import { Books } from "./shell/Books";
import {
  readAtticSearch,
  readClassificationSearch,
  readReportSearch,
  readTwinsSearch,
  readVocabularySearch,
  readWhySearch,
  readLimitSearch,
  readMatrixSearch,
  readGrantSearch,
  readGuestsSearch,
  readInviteSearch,
  readJournalSearch,
  readOwnersSearch,
  readOfferSearch,
  readRegisterSearch,
  readRulesSearch,
  readRemoveSearch,
  readYoursSearch,
} from "./api/search";

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
const sitePage = createRoute({
  getParentRoute: () => books,
  path: "/sites/$site",
  component: lazyRouteComponent(() => import("./site/SitePage"), "SitePage"),
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
const tree = createRoute({
  getParentRoute: () => books,
  path: "/tree",
  component: lazyRouteComponent(() => import("./register/TreePage"), "TreePage"),
});
const twins = createRoute({
  getParentRoute: () => books,
  path: "/twins",
  validateSearch: readTwinsSearch,
  component: lazyRouteComponent(() => import("./names/TwinsPage"), "TwinsPage"),
});
const group = createRoute({
  getParentRoute: () => books,
  path: "/groups/$group",
  component: lazyRouteComponent(() => import("./people/GroupPage"), "GroupPage"),
});
const owners = createRoute({
  getParentRoute: () => books,
  path: "/owners",
  validateSearch: readOwnersSearch,
  component: lazyRouteComponent(() => import("./owners/OwnersPage"), "OwnersPage"),
});
const handOver = createRoute({
  getParentRoute: () => books,
  path: "/sites/$site/hand-over",
  component: lazyRouteComponent(() => import("./owners/HandOverPage"), "HandOverPage"),
});
const addOwner = createRoute({
  getParentRoute: () => books,
  path: "/sites/$site/add-owner",
  component: lazyRouteComponent(() => import("./owners/AddOwnerPage"), "AddOwnerPage"),
});
const look = createRoute({
  getParentRoute: () => books,
  path: "/sites/$site/look",
  component: lazyRouteComponent(() => import("./looks/LookPage"), "LookPage"),
});
const address = createRoute({
  getParentRoute: () => books,
  path: "/sites/$site/address",
  component: lazyRouteComponent(() => import("./looks/AddressPage"), "AddressPage"),
});
const why = createRoute({
  getParentRoute: () => books,
  path: "/sites/$site/why",
  validateSearch: readWhySearch,
  component: lazyRouteComponent(() => import("./access/WhyPage"), "WhyPage"),
});
const grantAccess = createRoute({
  getParentRoute: () => books,
  path: "/sites/$site/grant-access",
  validateSearch: readGrantSearch,
  component: lazyRouteComponent(() => import("./access/GrantAccessPage"), "GrantAccessPage"),
});
const invite = createRoute({
  getParentRoute: () => books,
  path: "/sites/$site/invite",
  validateSearch: readInviteSearch,
  component: lazyRouteComponent(() => import("./guests/InvitePage"), "InvitePage"),
});
const guests = createRoute({
  getParentRoute: () => books,
  path: "/guests",
  validateSearch: readGuestsSearch,
  component: lazyRouteComponent(() => import("./guests/GuestsPage"), "GuestsPage"),
});
const access = createRoute({
  getParentRoute: () => books,
  path: "/access",
  validateSearch: readMatrixSearch,
  component: lazyRouteComponent(() => import("./access/AccessPage"), "AccessPage"),
});
const limits = createRoute({
  getParentRoute: () => books,
  path: "/limits",
  component: lazyRouteComponent(() => import("./access/LimitsPage"), "LimitsPage"),
});
const limit = createRoute({
  getParentRoute: () => books,
  path: "/limits/change",
  validateSearch: readLimitSearch,
  component: lazyRouteComponent(() => import("./access/LimitPage"), "LimitPage"),
});
const renameMany = createRoute({
  getParentRoute: () => books,
  path: "/rename",
  component: lazyRouteComponent(() => import("./looks/RenameManyPage"), "RenameManyPage"),
});
const addOwnerToMany = createRoute({
  getParentRoute: () => books,
  path: "/add-owner",
  component: lazyRouteComponent(() => import("./owners/AddOwnerToManyPage"), "AddOwnerToManyPage"),
});
const grantExceptions = createRoute({
  getParentRoute: () => books,
  path: "/grant-exceptions",
  validateSearch: (search): { rule?: string } => (typeof search.rule === "string" ? { rule: search.rule } : {}),
  component: lazyRouteComponent(() => import("./rules/GrantExceptionsPage"), "GrantExceptionsPage"),
});
const removeAccess = createRoute({
  getParentRoute: () => books,
  path: "/remove-access",
  validateSearch: readRemoveSearch,
  component: lazyRouteComponent(() => import("./people/RemoveAccessPage"), "RemoveAccessPage"),
});
const offer = createRoute({
  getParentRoute: () => books,
  path: "/offers/$offer",
  validateSearch: readOfferSearch,
  component: lazyRouteComponent(() => import("./owners/OfferPage"), "OfferPage"),
});
const attic = createRoute({
  getParentRoute: () => books,
  path: "/attic",
  validateSearch: readAtticSearch,
  component: lazyRouteComponent(() => import("./attic/AtticPage"), "AtticPage"),
});
const moveToAttic = createRoute({
  getParentRoute: () => books,
  path: "/sites/$site/move-to-attic",
  component: lazyRouteComponent(() => import("./attic/MoveToAtticPage"), "MoveToAtticPage"),
});
const peopleImport = createRoute({
  getParentRoute: () => books,
  path: "/sources/people",
  component: lazyRouteComponent(() => import("./sources/PeopleImportPage"), "PeopleImportPage"),
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
const siteImport = createRoute({
  getParentRoute: () => books,
  path: "/sources/$name/import",
  component: lazyRouteComponent(() => import("./sources/ImportPage"), "ImportPage"),
});
const manualProcedure = createRoute({
  getParentRoute: () => books,
  path: "/sources/manual-procedure",
  validateSearch: (search): { host?: string } => (typeof search.host === "string" ? { host: search.host } : {}),
  component: lazyRouteComponent(() => import("./sources/ManualProcedurePage"), "ManualProcedurePage"),
});
const classification = createRoute({
  getParentRoute: () => books,
  path: "/classification",
  validateSearch: readClassificationSearch,
  component: lazyRouteComponent(() => import("./classification/ClassificationPage"), "ClassificationPage"),
});
const rules = createRoute({
  getParentRoute: () => books,
  path: "/rules",
  validateSearch: readRulesSearch,
  component: lazyRouteComponent(() => import("./rules/RulesPage"), "RulesPage"),
});
const rulePage = createRoute({
  getParentRoute: () => books,
  path: "/rules/$rule",
  component: lazyRouteComponent(() => import("./rules/RulePage"), "RulePage"),
});
const vocabulary = createRoute({
  getParentRoute: () => books,
  path: "/vocabulary",
  validateSearch: readVocabularySearch,
  component: lazyRouteComponent(() => import("./vocabulary/VocabularyPage"), "VocabularyPage"),
});
const words = createRoute({
  getParentRoute: () => books,
  path: "/words",
  component: lazyRouteComponent(() => import("./words/WordsPage"), "WordsPage"),
});
const deadlines = createRoute({
  getParentRoute: () => books,
  path: "/deadlines",
  component: lazyRouteComponent(() => import("./deadlines/DeadlinesPage"), "DeadlinesPage"),
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
const manualTask = createRoute({
  getParentRoute: () => books,
  path: "/manual-tasks/$task",
  component: lazyRouteComponent(() => import("./manual-tasks/ManualTaskPage"), "ManualTaskPage"),
});
const yourSites = createRoute({
  getParentRoute: () => books,
  path: "/your-sites",
  validateSearch: readYoursSearch,
  component: lazyRouteComponent(() => import("./your-sites/YourSitesPage"), "YourSitesPage"),
});
const start = createRoute({
  getParentRoute: () => books,
  path: "/start",
  component: lazyRouteComponent(() => import("./starting/StartPage"), "StartPage"),
});
const siteRequest = createRoute({
  getParentRoute: () => books,
  path: "/site-requests/$request",
  component: lazyRouteComponent(() => import("./starting/SiteRequestPage"), "SiteRequestPage"),
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
    tree,
    twins,
    start,
    siteRequest,
    group,
    owners,
    handOver,
    addOwner,
    look,
    address,
    why,
    grantAccess,
    invite,
    guests,
    access,
    limits,
    limit,
    renameMany,
    addOwnerToMany,
    grantExceptions,
    removeAccess,
    offer,
    attic,
    moveToAttic,
    sources,
    accounts,
    peopleImport,
    siteImport,
    manualProcedure,
    manualTask,
    classification,
    rules,
    rulePage,
    vocabulary,
    words,
    deadlines,
    reports,
    report,
    yourSites,
    sitePage,
    journal,
    clock,
  ]),
]);

/** Every page by its address. A page is loaded when it is first opened. */
// Strict: a page gets only the parameters that it declares, whatever else the address contains.
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

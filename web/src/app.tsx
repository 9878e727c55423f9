import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { type ComponentType, lazy, Suspense, useEffect } from "react";
import { Navigate, Route, Routes, useLocation } from "react-router";
import { JobPage } from "./job/JobPage";
import { NewJob } from "./job/NewJob";
import { useLive } from "./live/live";
import { OthersContext } from "./live/OthersHere";
import { Palette } from "./palette/Palette";
import { kindsQuery } from "./queries/shop";
import { ResumePage } from "./record/ResumePage";
import { ErrorBoundary } from "./shared/ErrorBoundary";
import { Empty, LoadError, Loading } from "./shared/states";
import { useWriting } from "./shared/useWriting";
import { Parcels } from "./shelf/Parcels";
import { Shelf } from "./shelf/Shelf";
import { SideBar } from "./sidebar/SideBar";
import { SignIn } from "./signin/SignIn";
import { useSession } from "./signin/session";
import { Welcome } from "./signin/Welcome";

/** Pages come when somebody enters them, or once the first page stands: then they are there although the server is away. */
const loaders: (() => Promise<unknown>)[] = [];
function page<Name extends string>(load: () => Promise<Record<Name, ComponentType>>, name: Name) {
  loaders.push(load);
  return lazy(async () => ({ default: (await load())[name] }));
}

const ArrivePage = page(() => import("./arrive/ArrivePage"), "ArrivePage");
const BoardModelPage = page(() => import("./library/BoardModelPage"), "BoardModelPage");
const CasePage = page(() => import("./case/CasePage"), "CasePage");
const CustomerPage = page(() => import("./customer/CustomerPage"), "CustomerPage");
const CapturePage = page(() => import("./library/CapturePage"), "CapturePage");
const Editor = page(() => import("./editor/Editor"), "Editor");
const FiguresPage = page(() => import("./figures/FiguresPage"), "FiguresPage");
const HabitsPage = page(() => import("./library/HabitsPage"), "HabitsPage");
const KnownGoodPage = page(() => import("./library/KnownGoodPage"), "KnownGoodPage");
const Library = page(() => import("./library/Library"), "Library");
const LookPage = page(() => import("./look/LookPage"), "LookPage");
const MailboxPage = page(() => import("./shelf/MailboxPage"), "MailboxPage");
const MetersPage = page(() => import("./meters/MetersPage"), "MetersPage");
const OhmsPage = page(() => import("./ohms/OhmsPage"), "OhmsPage");
const OldEdition = page(() => import("./library/OldEdition"), "OldEdition");
const PackagePage = page(() => import("./library/PackagePage"), "PackagePage");
const AuditPage = page(() => import("./people/AuditPage"), "AuditPage");
const PeoplePage = page(() => import("./people/PeoplePage"), "PeoplePage");
const PhonePage = page(() => import("./phone/PhonePage"), "PhonePage");
const PackPage = page(() => import("./library/PackPage"), "PackPage");
const PlansPage = page(() => import("./library/PlansPage"), "PlansPage");
const PinoutsPage = page(() => import("./library/PinoutsPage"), "PinoutsPage");
const DebriefPage = page(() => import("./practice/DebriefPage"), "DebriefPage");
const PracticePage = page(() => import("./practice/PracticePage"), "PracticePage");
const ProtocolPage = page(() => import("./library/ProtocolPage"), "ProtocolPage");
const ProvePage = page(() => import("./proving/ProvePage"), "ProvePage");
const RecipePage = page(() => import("./library/RecipePage"), "RecipePage");
const ReturnPage = page(() => import("./returning/ReturnPage"), "ReturnPage");
const ReworkPage = page(() => import("./rework/ReworkPage"), "ReworkPage");
const ReworkSettingsPage = page(() => import("./library/ReworkSettingsPage"), "ReworkSettingsPage");
const SetupPage = page(() => import("./setup/SetupPage"), "SetupPage");
const StartupPage = page(() => import("./startup/StartupPage"), "StartupPage");
const StockPage = page(() => import("./stock/StockPage"), "StockPage");
const TeachReader = page(() => import("./library/TeachReader"), "TeachReader");
const TeardownPage = page(() => import("./teardown/TeardownPage"), "TeardownPage");
const TeardownRecipePage = page(() => import("./library/TeardownRecipePage"), "TeardownRecipePage");
const VoltsPage = page(() => import("./volts/VoltsPage"), "VoltsPage");
const Wall = page(() => import("./shelf/Wall"), "Wall");
const WatchlistPage = page(() => import("./library/WatchlistPage"), "WatchlistPage");

/** The signed-out see the sign-in at whatever address they came for, and go on there. */
export function App() {
  const session = useSession();
  useWriting();
  // a page that is open stays so while the server is away: what was typed on it is not lost
  if (!session.data)
    return session.isError ? (
      <LoadError problem={session.error} again={() => session.refetch()} />
    ) : (
      <Loading what={t`Checking who is signed in`} />
    );
  return (
    <ErrorBoundary>
      <Suspense fallback={<Loading what={t`Opening the page`} />}>
        <Routes>
          <Route path="/welcome/:token" element={<Welcome />} />
          <Route path="/c/:token" element={<CustomerPage />} />
          <Route path="/phone/:token" element={<PhonePage />} />
          <Route path="/wall" element={session.data.person ? <Wall /> : <SignIn />} />
          <Route
            path="*"
            element={session.data.person ? <Bench person={session.data.person} /> : <SignIn />}
          />
        </Routes>
      </Suspense>
    </ErrorBoundary>
  );
}

// the first page has its data by then
const SETTLED_MS = 1_500;

function Bench({ person }: { person: NonNullable<ReturnType<typeof useSession>["data"]>["person"] }) {
  useEffect(() => {
    const later = window.setTimeout(() => {
      for (const load of loaders) void load().catch(() => undefined);
    }, SETTLED_MS);
    return () => window.clearTimeout(later);
  }, []);
  const at = useLocation().pathname.match(/^\/jobs\/(\d+)/);
  const others = useLive(at ? Number(at[1]) : null);
  const kinds = useQuery(kindsQuery());
  // every screen offers some of them, and a form begins with what it offers
  if (!kinds.data)
    return kinds.isError ? (
      <LoadError problem={kinds.error} again={() => kinds.refetch()} />
    ) : (
      <Loading what={t`Opening the page`} />
    );
  return (
    <OthersContext value={others}>
      <div className="flex h-dvh">
        <SideBar person={person} />
        <Palette person={person} />
        <div className="relative min-w-0 flex-1 overflow-y-auto">
          <ErrorBoundary>
            <Suspense fallback={<Loading what={t`Opening the page`} />}>
              <Routes>
                <Route index element={<Navigate to="/shelf" replace />} />
                <Route path="shelf" element={<Shelf />} />
                <Route path="parcels" element={<Parcels />} />
                <Route path="setup" element={<SetupPage />} />
                <Route path="jobs/new" element={<NewJob />} />
                <Route path="messages" element={<MailboxPage />} />
                <Route path="meters" element={<MetersPage />} />
                <Route path="people" element={<PeoplePage />} />
                <Route path="people/audit" element={<AuditPage />} />
                <Route path="jobs/:number" element={<ResumePage />} />
                <Route path="jobs/:number/case" element={<CasePage />} />
                <Route path="jobs/:number/arrive" element={<ArrivePage />} />
                <Route path="jobs/:number/look" element={<LookPage />} />
                <Route path="jobs/:number/teardown" element={<TeardownPage />} />
                <Route path="jobs/:number/ohms" element={<OhmsPage />} />
                <Route path="jobs/:number/ohms/:tab" element={<OhmsPage />} />
                <Route path="jobs/:number/volts" element={<VoltsPage />} />
                <Route path="jobs/:number/volts/:tab" element={<VoltsPage />} />
                <Route path="jobs/:number/rework" element={<ReworkPage />} />
                <Route path="jobs/:number/rework/:tab" element={<ReworkPage />} />
                <Route path="jobs/:number/rework/pads/:designator" element={<ReworkPage />} />
                <Route path="jobs/:number/prove" element={<ProvePage />} />
                <Route path="jobs/:number/return" element={<ReturnPage />} />
                <Route path="jobs/:number/return/:tab" element={<ReturnPage />} />
                <Route path="jobs/:number/memory" element={<JobPage />} />
                <Route path="jobs/:number/memory/runs/:run" element={<JobPage />} />
                <Route path="jobs/:number/debrief" element={<DebriefPage />} />
                <Route path="practice" element={<PracticePage />} />
                <Route path="practice/:tab" element={<PracticePage />} />
                <Route path="figures" element={<FiguresPage />} />
                <Route path="figures/:tab" element={<FiguresPage />} />
                <Route path="stock" element={<StockPage />} />
                <Route path="stock/:tab" element={<StockPage />} />
                <Route path="library" element={<Library />} />
                <Route path="library/readers/teach" element={<TeachReader />} />
                <Route path="library/recipes/new" element={<RecipePage />} />
                <Route path="library/recipes/:slug" element={<RecipePage />} />
                <Route path="library/packages/:name" element={<PackagePage />} />
                <Route path="library/pinouts" element={<PinoutsPage />} />
                <Route path="library/plans" element={<PlansPage />} />
                <Route path="library/pack" element={<PackPage />} />
                <Route path="library/rework" element={<ReworkSettingsPage />} />
                <Route path="library/proof" element={<ProtocolPage />} />
                <Route path="library/habits" element={<HabitsPage />} />
                <Route path="library/new" element={<Editor />} />
                <Route path="library/:slug" element={<BoardModelPage />} />
                <Route path="library/:slug/teardown" element={<TeardownRecipePage />} />
                <Route path="library/:slug/known-good" element={<KnownGoodPage />} />
                <Route path="library/:slug/capture/:reference?" element={<CapturePage />} />
                <Route path="library/:slug/proof" element={<ProtocolPage />} />
                <Route path="library/:slug/watchlist" element={<WatchlistPage />} />
                <Route path="library/:slug/startup" element={<StartupPage />} />
                <Route path="library/:slug/edit" element={<Editor />} />
                <Route path="library/:slug/editions/:edition" element={<OldEdition />} />
                <Route
                  path="*"
                  element={
                    <Empty
                      title={t`There is no page at this address`}
                      next={t`Go to the shelf`}
                      to="/shelf"
                    />
                  }
                />
              </Routes>
            </Suspense>
          </ErrorBoundary>
        </div>
      </div>
    </OthersContext>
  );
}

import { t } from "@lingui/core/macro";
import { type ComponentType, lazy, Suspense, useEffect } from "react";
import { Navigate, Route, Routes, useLocation } from "react-router";
import { JobPage } from "./job/JobPage";
import { NewJob } from "./job/NewJob";
import { useLive } from "./live/live";
import { OthersContext } from "./live/OthersHere";
import { Palette } from "./palette/Palette";
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

/** Rooms come when somebody enters them, or once the first page stands: then they are there although the server is away. */
const loaders: (() => Promise<unknown>)[] = [];
function room<Name extends string>(load: () => Promise<Record<Name, ComponentType>>, name: Name) {
  loaders.push(load);
  return lazy(async () => ({ default: (await load())[name] }));
}

const ArrivePage = room(() => import("./arrive/ArrivePage"), "ArrivePage");
const BoardModelPage = room(() => import("./library/BoardModelPage"), "BoardModelPage");
const CasePage = room(() => import("./case/CasePage"), "CasePage");
const CustomerPage = room(() => import("./customer/CustomerPage"), "CustomerPage");
const CapturePage = room(() => import("./library/CapturePage"), "CapturePage");
const Editor = room(() => import("./editor/Editor"), "Editor");
const FiguresPage = room(() => import("./figures/FiguresPage"), "FiguresPage");
const HabitsPage = room(() => import("./library/HabitsPage"), "HabitsPage");
const KnownGoodPage = room(() => import("./library/KnownGoodPage"), "KnownGoodPage");
const Library = room(() => import("./library/Library"), "Library");
const LookPage = room(() => import("./look/LookPage"), "LookPage");
const MailboxPage = room(() => import("./shelf/MailboxPage"), "MailboxPage");
const MetersPage = room(() => import("./meters/MetersPage"), "MetersPage");
const OhmsPage = room(() => import("./ohms/OhmsPage"), "OhmsPage");
const OldEdition = room(() => import("./library/OldEdition"), "OldEdition");
const PackagePage = room(() => import("./library/PackagePage"), "PackagePage");
const AuditPage = room(() => import("./people/AuditPage"), "AuditPage");
const PeoplePage = room(() => import("./people/PeoplePage"), "PeoplePage");
const PhonePage = room(() => import("./phone/PhonePage"), "PhonePage");
const PackPage = room(() => import("./library/PackPage"), "PackPage");
const PlansPage = room(() => import("./library/PlansPage"), "PlansPage");
const PinoutsPage = room(() => import("./library/PinoutsPage"), "PinoutsPage");
const DebriefPage = room(() => import("./practice/DebriefPage"), "DebriefPage");
const PracticePage = room(() => import("./practice/PracticePage"), "PracticePage");
const ProtocolPage = room(() => import("./library/ProtocolPage"), "ProtocolPage");
const ProvePage = room(() => import("./proving/ProvePage"), "ProvePage");
const RecipePage = room(() => import("./library/RecipePage"), "RecipePage");
const ReturnPage = room(() => import("./returning/ReturnPage"), "ReturnPage");
const ReworkPage = room(() => import("./rework/ReworkPage"), "ReworkPage");
const ReworkSettingsPage = room(() => import("./library/ReworkSettingsPage"), "ReworkSettingsPage");
const SetupPage = room(() => import("./setup/SetupPage"), "SetupPage");
const StartupPage = room(() => import("./startup/StartupPage"), "StartupPage");
const StockPage = room(() => import("./stock/StockPage"), "StockPage");
const TeachReader = room(() => import("./library/TeachReader"), "TeachReader");
const TeardownPage = room(() => import("./teardown/TeardownPage"), "TeardownPage");
const TeardownRecipePage = room(() => import("./library/TeardownRecipePage"), "TeardownRecipePage");
const VoltsPage = room(() => import("./volts/VoltsPage"), "VoltsPage");
const Wall = room(() => import("./shelf/Wall"), "Wall");
const WatchlistPage = room(() => import("./library/WatchlistPage"), "WatchlistPage");

/** The signed-out see the sign-in at whatever address they came for, and go on there. */
export function App() {
  const session = useSession();
  useWriting();
  if (session.isPending) return <Loading what={t`Checking who is signed in`} />;
  if (session.isError) return <LoadError problem={session.error} again={() => session.refetch()} />;
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
                <Route path="jobs/:number/ohms/:room" element={<OhmsPage />} />
                <Route path="jobs/:number/volts" element={<VoltsPage />} />
                <Route path="jobs/:number/volts/:room" element={<VoltsPage />} />
                <Route path="jobs/:number/rework" element={<ReworkPage />} />
                <Route path="jobs/:number/rework/:room" element={<ReworkPage />} />
                <Route path="jobs/:number/rework/pads/:designator" element={<ReworkPage />} />
                <Route path="jobs/:number/prove" element={<ProvePage />} />
                <Route path="jobs/:number/return" element={<ReturnPage />} />
                <Route path="jobs/:number/return/:room" element={<ReturnPage />} />
                <Route path="jobs/:number/memory" element={<JobPage />} />
                <Route path="jobs/:number/memory/runs/:run" element={<JobPage />} />
                <Route path="jobs/:number/debrief" element={<DebriefPage />} />
                <Route path="practice" element={<PracticePage />} />
                <Route path="practice/:room" element={<PracticePage />} />
                <Route path="figures" element={<FiguresPage />} />
                <Route path="figures/:room" element={<FiguresPage />} />
                <Route path="stock" element={<StockPage />} />
                <Route path="stock/:room" element={<StockPage />} />
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

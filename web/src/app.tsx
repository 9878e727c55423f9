import { lazy, Suspense } from "react";
import { Navigate, Route, Routes } from "react-router";
import { ArrivePage } from "./arrive/ArrivePage";
import { JobPage } from "./job/JobPage";
import { NewJob } from "./job/NewJob";
import { BoardModelPage } from "./library/BoardModelPage";
import { CapturePage } from "./library/CapturePage";
import { HabitsPage } from "./library/HabitsPage";
import { KnownGoodPage } from "./library/KnownGoodPage";
import { Library } from "./library/Library";
import { OldEdition } from "./library/OldEdition";
import { PackagePage } from "./library/PackagePage";
import { PinoutsPage } from "./library/PinoutsPage";
import { RecipePage } from "./library/RecipePage";
import { TeachReader } from "./library/TeachReader";
import { TeardownRecipePage } from "./library/TeardownRecipePage";
import { WatchlistPage } from "./library/WatchlistPage";
import { LookPage } from "./look/LookPage";
import { MetersPage } from "./meters/MetersPage";
import { OhmsPage } from "./ohms/OhmsPage";
import { PeoplePage } from "./people/PeoplePage";
import { PhonePage } from "./phone/PhonePage";
import { ResumePage } from "./record/ResumePage";
import { Empty, Loading, Trouble } from "./shared/states";
import { Parcels } from "./shelf/Parcels";
import { Shelf } from "./shelf/Shelf";
import { SignIn } from "./signin/SignIn";
import { useSession } from "./signin/session";
import { Welcome } from "./signin/Welcome";
import { Spine } from "./spine/Spine";
import { TeardownPage } from "./teardown/TeardownPage";
import { VoltsPage } from "./volts/VoltsPage";

const StartupPage = lazy(async () => ({ default: (await import("./startup/StartupPage")).StartupPage }));

/** The editor is large and seldom opened: it comes when it is. */
const Editor = lazy(async () => ({ default: (await import("./editor/Editor")).Editor }));

/** The signed-out see the sign-in at whatever address they came for, and go on there. */
export function App() {
  const session = useSession();
  if (session.isPending) return <Loading what="Looking who is signed in" />;
  if (session.isError) return <Trouble problem={session.error} again={() => session.refetch()} />;
  return (
    <Routes>
      <Route path="/welcome/:token" element={<Welcome />} />
      <Route path="/phone/:token" element={<PhonePage />} />
      <Route path="*" element={session.data.person ? <Bench person={session.data.person} /> : <SignIn />} />
    </Routes>
  );
}

function Bench({ person }: { person: NonNullable<ReturnType<typeof useSession>["data"]>["person"] }) {
  return (
    <div className="flex h-dvh">
      <Spine person={person} />
      <div className="relative min-w-0 flex-1 overflow-y-auto">
        <Suspense fallback={<Loading what="Opening the page" />}>
          <Routes>
            <Route index element={<Navigate to="/shelf" replace />} />
            <Route path="shelf" element={<Shelf />} />
            <Route path="parcels" element={<Parcels />} />
            <Route path="jobs/new" element={<NewJob />} />
            <Route path="meters" element={<MetersPage />} />
            <Route path="people" element={<PeoplePage />} />
            <Route path="jobs/:number" element={<ResumePage />} />
            <Route path="jobs/:number/arrive" element={<ArrivePage />} />
            <Route path="jobs/:number/look" element={<LookPage />} />
            <Route path="jobs/:number/teardown" element={<TeardownPage />} />
            <Route path="jobs/:number/ohms" element={<OhmsPage />} />
            <Route path="jobs/:number/ohms/:room" element={<OhmsPage />} />
            <Route path="jobs/:number/volts" element={<VoltsPage />} />
            <Route path="jobs/:number/volts/:room" element={<VoltsPage />} />
            <Route path="jobs/:number/memory" element={<JobPage />} />
            <Route path="jobs/:number/memory/runs/:run" element={<JobPage />} />
            <Route path="library" element={<Library />} />
            <Route path="library/readers/teach" element={<TeachReader />} />
            <Route path="library/recipes/new" element={<RecipePage />} />
            <Route path="library/recipes/:slug" element={<RecipePage />} />
            <Route path="library/packages/:name" element={<PackagePage />} />
            <Route path="library/pinouts" element={<PinoutsPage />} />
            <Route path="library/habits" element={<HabitsPage />} />
            <Route path="library/new" element={<Editor />} />
            <Route path="library/:slug" element={<BoardModelPage />} />
            <Route path="library/:slug/teardown" element={<TeardownRecipePage />} />
            <Route path="library/:slug/known-good" element={<KnownGoodPage />} />
            <Route path="library/:slug/capture/:reference?" element={<CapturePage />} />
            <Route path="library/:slug/watchlist" element={<WatchlistPage />} />
            <Route path="library/:slug/startup" element={<StartupPage />} />
            <Route path="library/:slug/edit" element={<Editor />} />
            <Route path="library/:slug/editions/:edition" element={<OldEdition />} />
            <Route
              path="*"
              element={<Empty title="Nothing lies at this address" next="Go to the shelf" to="/shelf" />}
            />
          </Routes>
        </Suspense>
      </div>
    </div>
  );
}

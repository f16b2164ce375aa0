import { lazy, type ReactNode, Suspense } from "react";
import { Navigate, Route, Routes, useLocation } from "react-router";
import { Shell } from "./components/Shell";
import { Loading } from "./components/ui/feedback";
import { useField } from "./queries/pairing";
import { useArrivals } from "./queries/sorties";
import { useSpokenUnits } from "./queries/units";

const HomePage = lazy(() => import("./places/today/HomePage"));
const NewModelPage = lazy(() => import("./places/today/NewModelPage"));
const TodayPage = lazy(() => import("./places/today/TodayPage"));
const BenchPage = lazy(() => import("./places/bench/BenchPage"));
const PlanPage = lazy(() => import("./places/plan/PlanPage"));
const FlyPage = lazy(() => import("./places/fly/FlyPage"));
const WaitingPage = lazy(() => import("./places/fly/WaitingPage"));
const DebriefPage = lazy(() => import("./places/debrief/DebriefPage"));
const ReworkPage = lazy(() => import("./places/rework/ReworkPage"));
const HappenedPage = lazy(() => import("./places/fly/HappenedPage"));
const EmergencyPage = lazy(() => import("./places/fly/EmergencyPage"));
const HelpPage = lazy(() => import("./places/fly/HelpPage"));
const PairPage = lazy(() => import("./places/pairing/PairPage"));
const PhonesPage = lazy(() => import("./places/pairing/PhonesPage"));
const PacksPage = lazy(() => import("./places/packs/PacksPage"));
const LedgerPage = lazy(() => import("./places/ledger/LedgerPage"));

/** Every address of the application. */
export function App() {
  useSpokenUnits();
  useArrivals();
  return (
    <Suspense fallback={<Loading words="Opening…" />}>
      <Admitted>
        <Places />
      </Admitted>
    </Suspense>
  );
}

/**
 * Over the network only paired devices are let in, a helper's to its sortie. Where the program does not answer, what it last said
 * of this device holds. On the program's own machine nothing waits for it.
 */
function Admitted({ children }: { children: ReactNode }) {
  const field = useField();
  const { pathname } = useLocation();
  const asks = field.data?.asks;
  if (location.protocol === "https:" && field.isPending) return <Loading words="Asking the program…" />;
  // What is only on this device can be looked at and handed over, whoever it is.
  if (asks === "nobody" && pathname !== "/waiting") return <PairPage />;
  if (asks === "helper" && !/^\/(help|pair|waiting)(\/|$)/.test(pathname)) return <Navigate to="/help" replace />;
  return children;
}

function Places() {
  return (
    <Routes>
      <Route path="/" element={<HomePage />} />
      <Route path="/new" element={<Shell modelId={null} />}>
        <Route index element={<NewModelPage />} />
      </Route>
      <Route path="/pair" element={<PairPage />} />
      <Route path="/help" element={<HelpPage />} />
      <Route path="/help/emergency" element={<HelpPage emergency />} />
      <Route path="/phones" element={<Shell modelId={null} />}>
        <Route index element={<PhonesPage />} />
      </Route>
      <Route path="/packs" element={<Shell modelId={null} />}>
        <Route index element={<PacksPage />} />
      </Route>
      <Route path="/waiting" element={<Shell modelId={null} />}>
        <Route index element={<WaitingPage />} />
      </Route>
      <Route path="/m/:modelId" element={<Shell />}>
        <Route index element={<TodayPage />} />
        <Route path="bench" element={<BenchPage />} />
        <Route path="plan" element={<PlanPage />} />
        <Route path="fly" element={<FlyPage />} />
        <Route path="happened" element={<HappenedPage />} />
        <Route path="emergency" element={<EmergencyPage />} />
        <Route path="debrief" element={<DebriefPage />} />
        <Route path="rework" element={<ReworkPage />} />
        <Route path="ledger" element={<LedgerPage />} />
      </Route>
      <Route path="*" element={<Navigate to="/" replace />} />
    </Routes>
  );
}

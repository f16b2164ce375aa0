import { lazy, type ReactNode, Suspense } from "react";
import { Navigate, Route, Routes, useLocation } from "react-router";
import { Shell } from "./components/Shell";
import { Loading } from "./components/ui/feedback";
import { PLACE } from "./places";
import { useField } from "./queries/pairing";
import { useArrivals } from "./queries/sorties";
import { useSpokenUnits } from "./queries/units";

const HomePage = lazy(PLACE.home);
const NewModelPage = lazy(PLACE.new);
const TodayPage = lazy(PLACE.today);
const BenchPage = lazy(PLACE.bench);
const PlanPage = lazy(PLACE.plan);
const FlyPage = lazy(PLACE.fly);
const WaitingPage = lazy(PLACE.waiting);
const DebriefPage = lazy(PLACE.debrief);
const ReworkPage = lazy(PLACE.rework);
const HappenedPage = lazy(PLACE.happened);
const EmergencyPage = lazy(PLACE.emergency);
const HelpPage = lazy(PLACE.help);
const PairPage = lazy(PLACE.pair);
const PhonesPage = lazy(PLACE.phones);
const PacksPage = lazy(PLACE.packs);
const LedgerPage = lazy(PLACE.ledger);

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

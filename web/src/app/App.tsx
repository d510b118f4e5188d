/** The shell: sign-in, the rail, and the screens under it. */
import { useQuery } from "@tanstack/react-query";
import { Navigate, Outlet, Route, Routes } from "react-router";
import { ProblemError } from "../api/client";
import { session } from "../api/queries";
import { BenchListScreen } from "../screens/bench/ListScreen";
import { BenchScreen } from "../screens/bench/Screen";
import { CupboardScreen } from "../screens/cupboard/Screen";
import { IntakeScreen } from "../screens/orders/IntakeScreen";
import { OrdersScreen } from "../screens/orders/Screen";
import { PlanQueue } from "../screens/plan/Queue";
import { PlanScreen } from "../screens/plan/Screen";
import { PoliciesScreen } from "../screens/policies/Screen";
import { ProductsScreen } from "../screens/products/Screen";
import { ReadinessScreen } from "../screens/readiness/Screen";
import { NewRecipeScreen } from "../screens/recipes/NewScreen";
import { RecipesScreen } from "../screens/recipes/ListScreen";
import { RecipeScreen } from "../screens/recipes/Screen";
import { ChoosingScreen } from "../screens/rates/ChoosingScreen";
import { ComingScreen } from "../screens/rates/ComingScreen";
import { CompareScreen } from "../screens/rates/CompareScreen";
import { EachScreen } from "../screens/rates/EachScreen";
import { TariffsScreen } from "../screens/rates/TariffsScreen";
import { SignInScreen } from "../screens/sign-in/Screen";
import { SayProvider } from "../ui/overlays";
import { ProblemNote, Waiting } from "../ui/parts";
import { Find } from "./Find";
import { KeysHelp } from "./KeysHelp";
import { KeyProvider } from "./keys";
import { Rail } from "./Rail";
import { SessionProvider } from "./session";

/** The server says with the page whether anybody is signed in: a stranger is not asked for a session that is not there. */
const SIGNED_IN =
  document.querySelector<HTMLMetaElement>('meta[name="signed-in"]')?.content !== "no";

function Framed() {
  return (
    <>
      <Rail />
      <main>
        <Outlet />
      </main>
    </>
  );
}

export function App() {
  const who = useQuery({ ...session(), enabled: SIGNED_IN });
  if (who.isPending && !SIGNED_IN) return <SignInScreen />;
  if (who.isPending) return <Waiting what="your workshop" />;
  if (who.isError) {
    if (who.error instanceof ProblemError && [401, 403].includes(who.error.problem.status))
      return <SignInScreen />;
    return (
      <div className="p-6">
        <ProblemNote error={who.error} />
      </div>
    );
  }
  return (
    <SessionProvider session={who.data}>
      <SayProvider>
        <KeyProvider>
          <Find />
          <KeysHelp />
          <Routes>
            <Route path="/bench/:parcelId" element={<BenchScreen />} />
            <Route element={<Framed />}>
              <Route path="/" element={<Navigate to="/orders" replace />} />
              <Route path="/orders" element={<OrdersScreen />} />
              <Route path="/orders/intake" element={<IntakeScreen />} />
              <Route path="/plan" element={<PlanQueue />} />
              <Route path="/plan/:orderId" element={<PlanScreen />} />
              <Route path="/bench" element={<BenchListScreen />} />
              <Route path="/cupboard" element={<CupboardScreen />} />
              <Route path="/recipes" element={<RecipesScreen />} />
              <Route path="/recipes/new" element={<NewRecipeScreen />} />
              <Route path="/products" element={<ProductsScreen />} />
              <Route path="/readiness" element={<ReadinessScreen />} />
              <Route path="/policies" element={<PoliciesScreen />} />
              <Route path="/recipes/:recipeId" element={<RecipeScreen />} />
              <Route path="/rates" element={<CompareScreen />} />
              <Route path="/rates/tariffs" element={<TariffsScreen />} />
              <Route path="/rates/coming" element={<ComingScreen />} />
              <Route path="/rates/each" element={<EachScreen />} />
              <Route path="/rates/choosing" element={<ChoosingScreen />} />
              <Route path="*" element={<Navigate to="/orders" replace />} />
            </Route>
          </Routes>
        </KeyProvider>
      </SayProvider>
    </SessionProvider>
  );
}

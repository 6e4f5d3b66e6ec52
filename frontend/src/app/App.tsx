/** Routes. The pages of a run come with their own script, the first screen does not wait for them. */
import { CssBaseline, ThemeProvider } from "@mui/material";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { lazy, Suspense } from "react";
import { BrowserRouter, Navigate, Route, Routes } from "react-router";
import { ApiError } from "../api/client";
import { useSession } from "../api/queries";
import { HomePage, SignInPage } from "../features/people";
import { Shell } from "./Shell";
import { Failed, Loading } from "./states";
import { theme } from "./theme";

const ClassPage = lazy(() => import("../features/people/ClassPage"));
const LibraryPage = lazy(() => import("../features/plan/LibraryPage"));
const PlannerPage = lazy(() => import("../features/plan/PlannerPage"));
const DraftingPage = lazy(() => import("../features/drafting/DraftingPage"));
const StocksPage = lazy(() => import("../features/drafting/StocksPage"));
const BoardPage = lazy(() => import("../features/board/BoardPage"));
const RunPages = lazy(() => import("../features/run/RunPages"));

const client = new QueryClient({
  defaultOptions: {
    queries: {
      retry: (count, error) => !(error instanceof ApiError) && count < 3,
      refetchOnWindowFocus: true,
    },
    mutations: { networkMode: "always" },
  },
});

function SignedInOrNot() {
  const session = useSession();
  if (session.isPending) return <Loading what="your session" />;
  if (session.isError) return <Failed error={session.error} retry={() => void session.refetch()} />;
  const { teacher } = session.data;
  if (!teacher) return <SignInPage />;
  return (
    <Suspense fallback={<Loading what="the page" />}>
      <Routes>
        <Route element={<Shell teacher={teacher} />}>
          <Route index element={<HomePage />} />
          <Route path="classes/:classId" element={<ClassPage />} />
          <Route path="library" element={<LibraryPage />} />
          <Route path="recipes/:recipeId" element={<PlannerPage />} />
          <Route path="drafting/:kind?" element={<DraftingPage />} />
          <Route path="stocks" element={<StocksPage />} />
          <Route path="runs/:runId/*" element={<RunPages />} />
          <Route path="*" element={<Navigate to="/" replace />} />
        </Route>
      </Routes>
    </Suspense>
  );
}

export function App() {
  return (
    <ThemeProvider theme={theme}>
      <CssBaseline />
      <QueryClientProvider client={client}>
        <BrowserRouter>
          <Routes>
            <Route
              path="board/:token"
              element={
                <Suspense fallback={null}>
                  <BoardPage />
                </Suspense>
              }
            />
            <Route path="*" element={<SignedInOrNot />} />
          </Routes>
        </BrowserRouter>
      </QueryClientProvider>
    </ThemeProvider>
  );
}

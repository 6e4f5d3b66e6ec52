/** Routes. Each page comes with its own script, fetched while the data it needs is on its way. */
import { CssBaseline, ThemeProvider } from "@mui/material";
import { QueryClientProvider } from "@tanstack/react-query";
import { createBrowserRouter, Navigate, RouterProvider, type RouteObject } from "react-router";
import { useSession } from "../api/queries";
import { queryClient } from "../api/queryClient";
import { HomePage, SignInPage } from "../features/people";
import { Shell } from "./Shell";
import { Failed, Loading } from "../shared/states";
import { page } from "./page";
import { Stumbled } from "./Stumbled";
import { theme } from "../shared/theme";

function SignedInOrNot() {
  const session = useSession();
  if (session.isPending) return <Loading what="your session" />;
  if (!session.data) return <Failed error={session.error} retry={() => void session.refetch()} />;
  const { teacher, sign_up: signUp, sign_ons: signOns } = session.data;
  return teacher ? <Shell teacher={teacher} /> : <SignInPage signUp={signUp} signOns={signOns} />;
}

/** Routes of which one that fails leaves what is around them on screen. */
const kept = (children: RouteObject[]): RouteObject => ({ errorElement: <Stumbled />, children });

const runPages = kept([
  { index: true, element: <Navigate to="brief" replace /> },
  page("brief", () => import("../features/plan/BriefPage")),
  page("kit", () => import("../features/plan/KitPage")),
  page("build", () => import("../features/build/BuildPage")),
  page("drafting/:designId?", () => import("../features/drafting/DesignDraftPage")),
  page("check-in/:designId?", () => import("../features/checkin/CheckInPage")),
  page("bench/:designId?/:trialId?", () => import("../features/bench/BenchPage")),
  page("stations", () => import("../features/stations/StationsPage")),
  page("trials/:trialId?", () => import("../features/trials/TrialsPage")),
  page("compare/:view?", () => import("../features/compare/ComparePage")),
  page("next", () => import("../features/nextversion/NextVersionPage")),
  { path: "*", element: <Navigate to="../brief" replace /> },
]);

const teacherPages = kept([
  { index: true, element: <HomePage /> },
  page("classes/:classId", () => import("../features/people/ClassPage")),
  page("library", () => import("../features/plan/LibraryPage")),
  page("recipes/:recipeId", () => import("../features/plan/PlannerPage")),
  page("drafting/:kind?", () => import("../features/drafting/DraftingPage")),
  page("stocks", () => import("../features/drafting/StocksPage")),
  page("colleague/:code", () => import("../features/people/InvitedPage")),
  page("account", () => import("../features/people/AccountPage")),
  page("school", () => import("../features/school/SchoolPage")),
  { ...page("runs/:runId", () => import("./RunPages")), children: [runPages] },
  { path: "*", element: <Navigate to="/" replace /> },
]);

const router = createBrowserRouter([
  {
    ...kept([
      page("board/:token", () => import("../features/board/BoardPage")),
      page("join/:code?", () => import("../features/team/JoinPage")),
      page("team", () => import("../features/team/TeamPage")),
      page("team/test/:trialId?", () => import("../features/team/TeamTestPage")),
      page("team/draft", () => import("../features/team/TeamDraftPage")),
      { element: <SignedInOrNot />, children: [teacherPages] },
    ]),
    hydrateFallbackElement: <Loading what="the page" />,
  },
]);

export function App() {
  return (
    <ThemeProvider theme={theme}>
      <CssBaseline />
      <QueryClientProvider client={queryClient}>
        <RouterProvider router={router} />
      </QueryClientProvider>
    </ThemeProvider>
  );
}

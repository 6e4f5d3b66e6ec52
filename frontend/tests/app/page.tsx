/** A page of a run as the application shows it, in jsdom, with the real server behind it. */
import { ThemeProvider } from "@mui/material";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render, screen } from "@testing-library/react";
import type { ComponentType } from "react";
import { createMemoryRouter, RouterProvider } from "react-router";
import { vi } from "vitest";
import { theme } from "../../src/shared/theme";
import RunPages from "../../src/app/RunPages";
import { asTeacher } from "../server";
import { site } from "../site";
import { until } from "../until";

/** What the page asked of the server: method, path and body, in order. */
export interface Asked {
  method: string;
  path: string;
  body: Record<string, unknown>;
}

export interface Shown {
  asked: Asked[];
  /** The entries that the page sent to the ledger. */
  entries: () => { kind: string; data: Record<string, unknown> }[];
  address: () => string;
}

/** Shows a page below a run's deck; answers to writes come after `delayMs`. */
export async function showPage(
  path: string,
  pattern: string,
  page: ComponentType,
  delayMs = 0,
): Promise<Shown> {
  const asked: Asked[] = [];
  vi.stubGlobal(
    "EventSource",
    class {
      addEventListener() {}
      close() {}
    },
  );
  site.fetch = async (input) => {
    const request = input as Request;
    const { pathname, search } = new URL(request.url);
    const text = request.method === "GET" ? null : await request.text();
    if (text !== null)
      asked.push({
        method: request.method,
        path: pathname,
        body: text ? (JSON.parse(text) as Record<string, unknown>) : {},
      });
    if (text !== null && delayMs > 0) await new Promise((done) => setTimeout(done, delayMs));
    return asTeacher(pathname + search, { method: request.method, body: text });
  };
  const Page = page;
  const router = createMemoryRouter(
    [
      {
        path: "runs/:runId",
        element: <RunPages />,
        children: [
          { path: pattern, element: <Page /> },
          { path: "*", element: <p>Another page</p> },
        ],
      },
      { path: "*", element: <p>Elsewhere</p> },
    ],
    { initialEntries: [path] },
  );
  const client = new QueryClient({ defaultOptions: { mutations: { networkMode: "always" } } });
  document.body.innerHTML = '<div id="where"></div>';
  render(
    <ThemeProvider theme={theme}>
      <QueryClientProvider client={client}>
        <RouterProvider router={router} />
      </QueryClientProvider>
    </ThemeProvider>,
  );
  await until(() => screen.getByRole("navigation", { name: "Stages of the run" }));
  return {
    asked,
    entries: () =>
      asked
        .filter((request) => request.path.endsWith("/events"))
        .flatMap((request) => request.body["events"] as { kind: string; data: Record<string, unknown> }[]),
    address: () => router.state.location.pathname,
  };
}

// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, renderHook } from "@testing-library/react";
import type { ReactNode } from "react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { nameTablet, ofTablet } from "../../src/features/photo/tablet";
import { useLens } from "../../src/features/photo/useLens";
import { until } from "../until";

const frame = { width_px: 1400, height_px: 1050, focal_px: null, camera: "a tablet" };
const found = { frame, marks: [{ id: 1, corners: [] }], rims: [] };

/** What the server is asked, and what it says. */
const asked: { path: string; pictures: number; keep: boolean }[] = [];
let refuses = false;

vi.mock("../../src/api/client", () => ({
  answered: (answer: unknown) => Promise.resolve(answer),
  api: {
    POST: (path: string, { body }: { body: { pictures?: unknown[]; keep?: boolean } }) => {
      if (path === "/api/lens-pictures")
        return refuses ? Promise.reject(new Error("No card")) : Promise.resolve(found);
      asked.push({ path, pictures: body.pictures?.length ?? 0, keep: body.keep ?? false });
      return Promise.resolve({ told: "It is known.", wanted: "" });
    },
  },
}));

const client = new QueryClient();
const wrapper = ({ children }: { children: ReactNode }) => (
  <QueryClientProvider client={client}>{children}</QueryClientProvider>
);

describe("calibrating a lens", () => {
  beforeEach(() => {
    asked.length = 0;
    client.clear();
    refuses = false;
    window.localStorage.clear();
    let n = 0;
    URL.createObjectURL = () => `blob:${(n += 1)}`;
    URL.revokeObjectURL = () => undefined;
  });

  const begun = () => {
    const { result } = renderHook(() => useLens(1), { wrapper });
    const add = () => act(() => result.current.add.mutateAsync(new File(["x"], "a.jpg")).catch(() => null));
    return { result, add };
  };

  it("asks with all pictures there are, and again without one that is left out", async () => {
    const { result, add } = begun();
    await add();
    await add();
    await until(() => expect(asked.at(-1)).toMatchObject({ pictures: 2, keep: false }));
    act(() => result.current.drop(result.current.pictures[0]?.url ?? ""));
    await until(() => expect(asked.at(-1)).toMatchObject({ pictures: 1, keep: false }));
    expect(result.current.pictures.map(({ url }) => url)).toEqual(["blob:2"]);
  });

  it("a picture without a card is none, and those before it stay", async () => {
    const { result, add } = begun();
    await add();
    refuses = true;
    await add();
    expect(result.current.pictures).toHaveLength(1);
    await until(() => expect(result.current.add.isError).toBe(true));
  });

  it("the tablet has a name from when its lens is kept, and the same ever after", async () => {
    const { result, add } = begun();
    expect(ofTablet()).toEqual({});
    await add();
    expect(ofTablet()).toEqual({});
    await act(() => result.current.keep.mutateAsync());
    const { tablet } = ofTablet();
    expect(tablet).toMatch(/^[\da-f-]{36}$/);
    expect(asked.at(-1)).toMatchObject({ path: "/api/tablets/{tablet}/lenses", keep: true });
    expect(window.localStorage.getItem("girder.tablet")).toBe(tablet);
  });

  it("where a browser keeps nothing it has its name until the page is left", () => {
    const full = vi.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
      throw new DOMException("full", "QuotaExceededError");
    });
    nameTablet("5f2f7d0e-2f6c-4d1b-9a53-0c8c6f1f7a11");
    expect(ofTablet()).toEqual({ tablet: "5f2f7d0e-2f6c-4d1b-9a53-0c8c6f1f7a11" });
    full.mockRestore();
  });
});

// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { renderHook } from "@testing-library/react";
import type { ReactNode } from "react";
import { expect, it } from "vitest";
import { usePicture } from "../../src/features/photo/usePicture";

it("is drawn no more once nothing moves", async () => {
  const client = new QueryClient();
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>{children}</QueryClientProvider>
  );
  let drawn = 0;
  const { rerender } = renderHook(
    () => {
      drawn += 1;
      return usePicture(1, { key: "height", label: "Height", kind: "length" });
    },
    { wrapper },
  );
  // Something else on the page changes.
  rerender();
  await new Promise((done) => setTimeout(done, 1000));
  expect(drawn).toBeLessThan(4);
});

import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { describe, expect, it } from "vitest";
import { showAnswer } from "../../src/api/queries";
import { until } from "../until";

const KEY = ["run", 1] as const;

describe("what a write answered", () => {
  it("is not put back by a fetch that began before it, however late that comes", async () => {
    // The server's clock, and the answers that are on their way, each with what the server knew as it was asked.
    let clock = "to do";
    const way: (() => void)[] = [];
    const fetched = () => {
      const knew = clock;
      return new Promise<string>((come) => way.push(() => come(knew)));
    };
    const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
    const seen = new QueryObserver<string>(client, { queryKey: KEY, queryFn: fetched });
    const leave = seen.subscribe(() => undefined);
    way.shift()?.();
    await until(() => expect(seen.getCurrentResult().data).toBe("to do"));

    void client.invalidateQueries({ queryKey: KEY });
    await until(() => expect(way).toHaveLength(1));
    clock = "running, five minutes more";
    showAnswer<string>(client, KEY, "running");
    expect(seen.getCurrentResult().data).toBe("running");
    await until(() => expect(way).toHaveLength(2));
    way[0]?.();
    await new Promise((rest) => setTimeout(rest, 20));
    expect(seen.getCurrentResult().data).toBe("running");
    // What another bench wrote meanwhile comes with the fetch that began after the write.
    way[1]?.();
    await until(() => expect(seen.getCurrentResult().data).toBe("running, five minutes more"));
    leave();
    client.clear();
  });
});

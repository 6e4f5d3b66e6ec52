// @vitest-environment jsdom
import { QueryClient, QueryClientProvider, useQuery } from "@tanstack/react-query";
import { render, screen } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { keys } from "../../src/api/queries";
import { useRunStream } from "../../src/features/board";
import { until } from "../until";

const RUN = 7;

/** A stream that stands when the test says so, as a server that is busy lets one wait. */
class Stream {
  static readonly CLOSED = 2;
  static latest: Stream | null = null;
  readyState = 0;
  onerror: (() => void) | null = null;
  private readonly heard: (() => void)[] = [];

  constructor(readonly address: string) {
    Stream.latest = this;
  }

  addEventListener(_: string, listener: () => void) {
    this.heard.push(listener);
  }

  close() {
    this.readyState = Stream.CLOSED;
  }

  tell() {
    for (const listener of this.heard) listener();
  }
}

const noAnswer = () => {};

function Page({ fetch }: { fetch: () => Promise<string> }) {
  const { data } = useQuery({ queryKey: keys.run(RUN), queryFn: fetch });
  useRunStream(RUN, data !== undefined);
  return <p>{data ?? "nothing yet"}</p>;
}

function show(fetch: () => Promise<string>) {
  Stream.latest = null;
  vi.stubGlobal("EventSource", Stream);
  render(
    <QueryClientProvider client={new QueryClient()}>
      <Page fetch={fetch} />
    </QueryClientProvider>,
  );
}

describe("a change while the page opens", () => {
  it("is shown, though it came after the fetch and before the stream stood", async () => {
    let written = "nobody on the bench";
    show(() => Promise.resolve(written));
    await screen.findByText("nobody on the bench");
    written = "Tern on the bench";
    // The only thing that this stream will ever say: that it stands.
    Stream.latest?.tell();
    await screen.findByText("Tern on the bench");
  });

  it("is shown, though it came while the first fetch was under way", async () => {
    let written = "nobody on the bench";
    let answer = noAnswer;
    show(() => {
      const read = written;
      return new Promise((done) => (answer = () => done(read)));
    });
    await until(() => expect(answer).not.toBe(noAnswer));
    written = "Tern on the bench";
    Stream.latest?.tell();
    const first = answer;
    answer();
    await screen.findByText("nobody on the bench");
    Stream.latest?.tell();
    await until(() => expect(answer).not.toBe(first));
    answer();
    await screen.findByText("Tern on the bench");
  });

  it("many changes at once are one fetch", async () => {
    let fetched = 0;
    show(() => Promise.resolve(`fetch ${++fetched}`));
    await screen.findByText("fetch 1");
    for (let i = 0; i < 20; i++) Stream.latest?.tell();
    await screen.findByText("fetch 2");
    await new Promise((done) => setTimeout(done, 400));
    expect(fetched).toBe(2);
  });
});

import { afterEach, describe, expect, it, vi } from "vitest";
import { openCamera } from "../../src/features/photo/eye";

afterEach(() => vi.unstubAllGlobals());

describe("the camera of a tablet", () => {
  it("is not to be had by a page that came without encryption, and it is said what to do", async () => {
    vi.stubGlobal("navigator", {});
    await expect(openCamera()).rejects.toThrow(/only to a page that came encrypted.*--share --tls/);
  });

  it("that the browser refuses is said as what it is", async () => {
    const refuse = () => Promise.reject(new DOMException("Permission denied", "NotAllowedError"));
    vi.stubGlobal("navigator", { mediaDevices: { getUserMedia: refuse } });
    await expect(openCamera()).rejects.toThrow(/^No camera came\. Let this page use it/);
  });
});

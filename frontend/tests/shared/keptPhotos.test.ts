/** Photographs wait for the network, are sent once under one name each, and one that is not taken stops no other. */
import { describe, expect, it } from "vitest";
import { ApiError } from "../../src/api/client";
import { noAnswer } from "../noAnswer";
import { KeptPhotos, type WaitingPhoto } from "../../src/shared/KeptPhotos";

const shot = (words: string) => new File([words], `${words}.jpg`, { type: "image/jpeg" });
const own = (place: string) => place.startsWith("here ");

/** A line that does what it is told to, and notes what came through. */
class Line {
  came: string[] = [];
  names = new Set<string>();
  fate: "through" | "away" | "signed out" | "answer lost" = "through";
  bad = "";
  stumblesOver = "";

  readonly send = async (photo: WaitingPhoto): Promise<void> => {
    const words = await photo.data.text();
    if (this.fate === "away") throw new TypeError("network error");
    if (this.fate === "signed out")
      throw new ApiError(403, { code: "not_authenticated", sentence: "Sign in first." });
    if (words === this.stumblesOver) throw new ApiError(500, {});
    if (words === this.bad) throw new ApiError(400, { code: "bad_photo", sentence: "That is no photo." });
    if (!this.names.has(photo.id)) this.came.push(words);
    this.names.add(photo.id);
    if (this.fate === "answer lost") throw new TypeError("network error");
  };
}

describe("photographs that wait", () => {
  it.each(["away", "signed out", "answer lost"] as const)(
    "%s, they are kept, and come once",
    async (fate) => {
      const line = new Line();
      line.fate = fate;
      const place = `here ${fate}`;
      const before = new KeptPhotos((other) => other === place, line.send);
      await before.start();
      await before.give(shot("first"), place, "design");
      await before.give(shot("second"), place, "wreck");
      expect([before.snapshot().photos.length, before.snapshot().away]).toEqual([2, true]);
      expect(before.snapshot().refused.size).toBe(0);
      // The page is closed, and opened again when the line is back.
      before.close();
      line.fate = "through";
      const after = new KeptPhotos((other) => other === place, line.send);
      await after.start();
      expect([...line.came].sort()).toEqual(["first", "second"]);
      expect(after.snapshot()).toEqual({ photos: [], away: false, refused: new Map() });
      await new KeptPhotos((other) => other === place, line.send).start();
      expect(line.came).toHaveLength(2);
    },
  );

  it("one that is not taken says why, lets the others through, and can be put away", async () => {
    const line = new Line();
    line.bad = "a text";
    const kept = new KeptPhotos(own, line.send);
    await kept.start();
    await kept.give(shot("a text"), "here a", "design");
    await kept.give(shot("a bridge"), "here b", "design");
    expect(line.came).toEqual(["a bridge"]);
    const [bad] = kept.snapshot().photos;
    expect([...kept.snapshot().refused]).toEqual([[bad?.id, "That is no photo."]]);
    await kept.drop(bad?.id ?? "");
    expect(kept.snapshot()).toEqual({ photos: [], away: false, refused: new Map() });
    const again = new KeptPhotos(own, line.send);
    await again.start();
    expect(again.snapshot().photos).toEqual([]);
  });

  it("one over which the server stumbles keeps no other waiting, and is tried again", async () => {
    const line = new Line();
    line.stumblesOver = "a riddle";
    const kept = new KeptPhotos((place) => place === "stumbled", line.send);
    await kept.start();
    await kept.give(shot("a riddle"), "stumbled", "design");
    await kept.give(shot("a bridge"), "stumbled", "design");
    expect(line.came).toEqual(["a bridge"]);
    expect(kept.snapshot()).toMatchObject({ away: true, refused: new Map() });
    expect(kept.snapshot().photos).toHaveLength(1);
    line.stumblesOver = "";
    await kept.start();
    expect(line.came).toEqual(["a bridge", "a riddle"]);
    expect(kept.snapshot()).toEqual({ photos: [], away: false, refused: new Map() });
  });

  it("a database that does not answer keeps none from being sent", async () => {
    const back = await noAnswer();
    const line = new Line();
    const kept = new KeptPhotos(own, line.send);
    await kept.start();
    await kept.give(shot("a"), "here a", "design");
    await kept.give(shot("b"), "here b", "wreck");
    expect(line.came).toEqual(["a", "b"]);
    expect(kept.snapshot()).toEqual({ photos: [], away: false, refused: new Map() });
    back();
  });

  it("what others keep here is left alone", async () => {
    const line = new Line();
    line.fate = "away";
    const theirs = new KeptPhotos((place) => place === "theirs", line.send);
    await theirs.give(shot("theirs"), "theirs", "design");
    theirs.close();
    line.fate = "through";
    await new KeptPhotos(own, line.send).start();
    expect(line.came).toEqual([]);
  });
});

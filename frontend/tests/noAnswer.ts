/** A browser whose database does not answer, as after a crash, till it is put back. */
import { openDB } from "idb";

export async function noAnswer(): Promise<() => void> {
  const there = await openDB("stuck", 1);
  const usual = indexedDB.open.bind(indexedDB);
  // A newer version waits for as long as the older one is open.
  indexedDB.open = () => usual("stuck", 2);
  return () => {
    indexedDB.open = usual;
    there.close();
  };
}

/** What the browser's tab says: where one is, the nearest first. */
import { useEffect } from "react";

export function useTitle(parts: readonly string[]): void {
  const title = [...parts.filter((part) => part !== ""), "Even Girder"].join(" · ");
  useEffect(() => {
    document.title = title;
    return () => {
      document.title = "Even Girder";
    };
  }, [title]);
}

/** How long the browser's own database is waited for: what it cannot keep just now is done and sent all the same [ms]. */
export const KEEP_MS = 1500;

/** What comes of a question within a time [ms], or the other where it fails or takes longer. */
export async function soon<T>(asked: Promise<T>, otherwise: T, ms = KEEP_MS): Promise<T> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const late = new Promise<T>((resolve) => {
    timer = setTimeout(() => resolve(otherwise), ms);
  });
  try {
    return await Promise.race([asked.catch(() => otherwise), late]);
  } finally {
    clearTimeout(timer);
  }
}

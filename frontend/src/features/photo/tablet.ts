/** The name of this tablet: made up when its lens is calibrated, and sent along with each of its pictures from then on. */
const KEPT = "girder.tablet";

/** For a browser that keeps nothing: until the page is left. */
let unkept: string | null = null;

function kept(): string | null {
  try {
    return window.localStorage.getItem(KEPT);
  } catch {
    return null;
  }
}

/** What goes along with a picture: nothing for a tablet whose lens was never calibrated. */
export function ofTablet(): { tablet?: string } {
  const name = kept() ?? unkept;
  return name === null ? {} : { tablet: name };
}

export function nameTablet(given: string): void {
  try {
    window.localStorage.setItem(KEPT, given);
  } catch {
    unkept = given;
  }
}

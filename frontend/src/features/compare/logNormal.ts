/** The share of a log-normal distribution below a value, for drawing a curve that the server fitted. */

/** Error function by Abramowitz and Stegun 7.1.26; off by less than 2e-7, far below a pixel. */
function erf(x: number): number {
  const t = 1 / (1 + 0.3275911 * Math.abs(x));
  const poly =
    ((((1.061405429 * t - 1.453152027) * t + 1.421413741) * t - 0.284496736) * t + 0.254829592) * t;
  return Math.sign(x) * (1 - poly * Math.exp(-x * x));
}

export function logNormalShare(value: number, mu: number, sigma: number): number {
  if (value <= 0) return 0;
  return 0.5 * (1 + erf((Math.log(value) - mu) / (sigma * Math.SQRT2)));
}

/** How large a picture is drawn: as the window leaves room for, whole. */
export const whole = (width: number, height: number) => ({
  width: `min(100%, calc((100vh - 120px) * ${width / height}))`,
  aspectRatio: `${width} / ${height}`,
});

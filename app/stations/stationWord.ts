/** Name of the station that a check belongs to. */
export const stationWord = (check: string): string => (/^(skeleton|weights)\./.test(check) ? "Skeleton" : /^(shapes|face)\./.test(check) ? "Shapes" : /^(pose|pair|clip)\./.test(check) ? "Trials" : "Intake");

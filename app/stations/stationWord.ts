import { stationOfCheck } from "~core/checks/stationOfCheck";

/** Name of the station that a check belongs to, as the route shows it. */
export const stationWord = (check: string): string => {
  const station = stationOfCheck(check);
  return station[0]!.toUpperCase() + station.slice(1);
};

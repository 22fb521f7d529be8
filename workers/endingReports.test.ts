import { endingReports } from "./endingReports";

describe("reports of progress", () => {
  it("are heard while the work runs, and not after its end, however late they arrive", () => {
    const heard: number[] = [];
    const { tell, end } = endingReports((s) => heard.push(s));
    tell(0.4);
    end();
    tell(1);
    expect(heard).toEqual([0.4]);
  });
});

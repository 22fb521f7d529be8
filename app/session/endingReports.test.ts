import { withReports } from "./endingReports";

describe("reports of progress", () => {
  it("are heard while the work runs, and not after its end", async () => {
    const heard: number[] = [];
    let late: (share: number) => void = () => {};
    const result = await withReports(
      (s) => heard.push(s),
      (tell) => {
        late = tell;
        tell(0.4);
        return Promise.resolve("done");
      },
    );
    late(1);
    expect([result, heard]).toEqual(["done", [0.4]]);
  });
  it("nor after it was cancelled, also where a second worker still reports", async () => {
    const heard: number[] = [];
    let second: (share: number) => void = () => {};
    await expect(
      withReports(
        (s) => heard.push(s),
        (tell) => {
          second = tell;
          return Promise.all([Promise.reject(new Error("cancelled")), new Promise(() => {})]);
        },
      ),
    ).rejects.toThrow("cancelled");
    second(0.7);
    expect(heard).toEqual([]);
  });
});

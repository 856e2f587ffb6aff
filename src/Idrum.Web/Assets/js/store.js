// What this device keeps: acts that wait, and jobs taken along with the run of acts done since. The shapes have versions: a newer Idrum
// takes what an older one left here.
import { openDB } from "idb";

const database = openDB("idrum", 2, {
  upgrade(db, from) {
    if (from < 1)
      db.createObjectStore("waiting", { keyPath: "key", autoIncrement: true });
    if (from < 2) db.createObjectStore("along", { keyPath: "number" });
  },
});

export const waiting = async () => (await database).getAll("waiting");
export const putWaiting = async (act) => (await database).put("waiting", act);
export const dropWaiting = async (act) =>
  (await database).delete("waiting", act.key);

export const jobsAlong = async () => (await database).getAll("along");
export const jobAlong = async (number) =>
  number ? (await database).get("along", number) : undefined;
export const putAlong = async (job) => (await database).put("along", job);

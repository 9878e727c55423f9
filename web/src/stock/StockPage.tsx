import { useParams } from "react-router";
import { RoomLinks } from "../shared/RoomLinks";
import { Donors } from "./Donors";
import { Find } from "./Find";
import { Lots } from "./Lots";
import { Parts } from "./Parts";
import { Values } from "./Values";

/** Every part of the shop: where it is, where it was, whether it fits, what its lot says, and the cards that give parts. */
export function StockPage() {
  const { room = "parts" } = useParams();
  return (
    <main className="flex min-h-full flex-col gap-4 p-6">
      <header className="flex flex-wrap items-center justify-between gap-4">
        <h1 className="font-bold text-3xl">Stock</h1>
        <RoomLinks
          of="Stock"
          rooms={[
            ["/stock", "Parts"],
            ["/stock/donors", "Donors"],
            ["/stock/lots", "Lots"],
            ["/stock/find", "Find a part"],
            ["/stock/values", "Values"],
          ]}
        />
      </header>
      {room === "donors" ? (
        <Donors />
      ) : room === "lots" ? (
        <Lots />
      ) : room === "find" ? (
        <Find />
      ) : room === "values" ? (
        <Values />
      ) : (
        <Parts />
      )}
    </main>
  );
}

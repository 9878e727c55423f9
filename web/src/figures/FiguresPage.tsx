import { useParams } from "react-router";
import { RoomLinks } from "../shared/RoomLinks";
import { Counted } from "./Counted";
import { Learning } from "./Learning";
import { TakeAlong } from "./TakeAlong";

/** What the shop's own jobs say, what it learned of proven cards, and its data to take along. */
export function FiguresPage() {
  const { room = "counted" } = useParams();
  return (
    <main className="flex min-h-full flex-col gap-4 p-6">
      <header className="flex flex-wrap items-center justify-between gap-4">
        <h1 className="font-bold text-3xl">Figures</h1>
        <RoomLinks
          of="Figures"
          rooms={[
            ["/figures", "Counted"],
            ["/figures/learning", "Learned"],
            ["/figures/archive", "Take along"],
          ]}
        />
      </header>
      {room === "learning" ? <Learning /> : room === "archive" ? <TakeAlong /> : <Counted />}
    </main>
  );
}

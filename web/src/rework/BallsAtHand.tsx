import { t } from "@lingui/core/macro";
import { useStock } from "../stock/useStock";

/** Whether stock has balls and a stencil of that size. */
export function BallsAtHand({ mm, stencil }: { mm: number | null; stencil: boolean }) {
  const asked = mm !== null && !Number.isNaN(mm);
  const stock = useStock({ text: "", kind: "", place: "" });
  if (!asked || !stock.data) return null;
  const of = (kind: string) => stock.data.parts.filter((part) => part.kind === kind && part.ball_mm === mm);
  const pieces = of("balls").reduce((sum, entry) => sum + (entry.amount ?? 0), 0);
  return (
    <p className="w-full">
      {of("balls").length > 0
        ? t`${pieces} balls of ${mm} mm in stock.`
        : t`No balls of ${mm} mm are kept in stock.`}
      {stencil &&
        (of("stencil").length > 0
          ? t` Stencil: ${of("stencil")[0]?.where ?? ""}.`
          : t` No stencil for ${mm} mm in stock.`)}
    </p>
  );
}

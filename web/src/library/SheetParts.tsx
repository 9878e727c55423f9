import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { boardModelQuery } from "../queries/library";
import { FormError } from "../shared/FormError";
import { moment } from "../shared/words";

interface SheetHeadProps {
  title: string;
  slug: string;
  head: { edition: number; borrowed_from: string | null; by: string | null; at: string | null };
  /** where there is none, what stands below is the shop’s own */
  shops?: boolean;
}

/** Whose sheet it is, which edition, or from which relative it is borrowed. */
export function SheetHead({ title, slug, head, shops = false }: SheetHeadProps) {
  const { edition, borrowed_from, by, at } = head;
  const model = useQuery(boardModelQuery(slug));
  return (
    <header>
      <h1 className="text-3xl font-bold">{title}</h1>
      <p className="text-soft">
        <Link className="button-plain -ml-2" to={`/library/${slug}`}>
          {model.data?.name ?? slug}
        </Link>{" "}
        {borrowed_from
          ? t`has none of its own; this is that of ${borrowed_from}. Saving makes it its own.`
          : edition > 0 && by && at
            ? t`edition ${edition}, ${by}, ${moment(at)}`
            : shops
              ? t`has none of its own; this is the shop’s. Saving makes it its own.`
              : t`has none yet.`}
      </p>
    </header>
  );
}

interface SheetButtonsProps {
  add: string;
  onAdd: () => void;
  editing: {
    touched: boolean;
    busy: boolean;
    problem: { message: string } | null;
    save: () => Promise<void>;
    discard: () => Promise<void>;
  };
}

/** Adding, saving, and after a refusal the way back to what somebody else saved. */
export function SheetButtons({ add, onAdd, editing }: SheetButtonsProps) {
  const { touched, busy, problem, save, discard } = editing;
  return (
    <>
      <FormError problem={problem} />
      <p className="mt-4 flex gap-3">
        <button type="button" className="button" onClick={onAdd}>
          {add}
        </button>
        <button
          type="button"
          className={`button ${touched ? "border-next" : ""}`}
          disabled={!touched || busy}
          onClick={() => void save()}
        >
          {busy ? t`Saving …` : t`Save`}
        </button>
        {touched && (
          <button type="button" className="button-plain" onClick={() => void discard()}>
            <Trans>Back to what is saved</Trans>
          </button>
        )}
      </p>
    </>
  );
}

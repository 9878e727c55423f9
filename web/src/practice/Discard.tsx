import { t } from "@lingui/core/macro";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api } from "../api/client";
import { keyOf } from "../queries/keys";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";

/** Discards a practice card with all that was entered, at the second press. */
export function Discard({ number }: { number: number }) {
  const navigate = useNavigate();
  const [sure, setSure] = useState(false);
  const keeping = useKeeping([keyOf("practice"), keyOf("practice-day")], () => navigate("/practice/rounds"));
  const discard = () =>
    keeping.keep(() => api.DELETE("/api/v1/jobs/{number}/practice", { params: { path: { number } } }));
  return (
    <>
      <button
        type="button"
        className="button-plain"
        disabled={keeping.busy}
        onClick={() => (sure ? void discard() : setSure(true))}
      >
        {sure ? t`Discard for good` : t`Discard`}
      </button>
      <FormError problem={keeping.problem} />
    </>
  );
}

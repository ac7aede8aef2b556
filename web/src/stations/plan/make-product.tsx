import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";

import { answer, api } from "../../shared/api/client";
import { batchesOfPlanQuery } from "../../shared/api/queries";
import { Button } from "../../ui/button";
import { usePlan } from "./use-plan";

/** Once the day is started each product leads to its batch, or begins it in the size and machine that are planned. */
export function MakeProduct({ product, name }: { product: string; name: string }) {
  const { plan } = usePlan();
  const client = useQueryClient();
  const navigate = useNavigate();
  const batches = useQuery(batchesOfPlanQuery(plan.id));
  const begin = useMutation({
    mutationFn: () => answer(api.POST("/plans/{plan_id}/batches", { params: { path: { plan_id: plan.id } }, body: { product } })),
    onSuccess: async (begun) => {
      await client.invalidateQueries(batchesOfPlanQuery(plan.id));
      void navigate(`/make/${begun.batch}`);
    },
  });
  const begun = batches.data?.find((one) => one.product === product);
  if (begun) {
    return (
      <Link to={`/make/${begun.batch}`} className="inline-block min-h-[24px] font-semibold underline">
        Batch {begun.number} of {name}
      </Link>
    );
  }
  return (
    <span className="flex flex-wrap items-center gap-2">
      <Button disabled={begin.isPending || batches.isPending} onClick={() => begin.mutate()}>
        Make {name}
      </Button>
      {begin.error && (
        <span role="alert" className="text-hot">
          {begin.error.message}
        </span>
      )}
    </span>
  );
}

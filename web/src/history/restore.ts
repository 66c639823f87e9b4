import { client, noConnection, refusal } from "../api/client";
import { slugNow } from "../work/document";
import { restored } from "../work/saving";

/** Make an earlier revision the newest again; what went wrong, or null. */
export async function restore(number: number): Promise<string | null> {
  const slug = slugNow();
  if (!slug) return null;
  const { data, error } = await client
    .POST("/api/machines/{slug}/revisions/{number}/restore", { params: { path: { slug, number } } })
    .catch(noConnection);
  if (!data) return refusal(error);
  await restored(data);
  return null;
}

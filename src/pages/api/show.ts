import type { APIRoute } from "astro";
import { answered, bodyText, MAX_DOCUMENT_BYTES, tooLong } from "../../server/json-answer.ts";

/** The show as a document. */
export const GET: APIRoute = ({ locals }) => {
  const { show } = locals.application;
  return new Response(`${JSON.stringify(show, null, 2)}\n`, {
    headers: {
      "content-type": "application/json",
      "content-disposition": `attachment; filename="${fileName(show.name)}.show.json"`,
    },
  });
};

/** Opens a show document in the place of the present one; it can be undone. */
export const PUT: APIRoute = async ({ request, locals }) => {
  const text = await bodyText(request, MAX_DOCUMENT_BYTES);
  return text === null ? tooLong(MAX_DOCUMENT_BYTES) : answered(await locals.application.openShow(text));
};

function fileName(name: string): string {
  return (
    name
      .toLowerCase()
      .replaceAll(/[^a-z0-9]+/g, "-")
      .replaceAll(/^-|-$/g, "") || "show"
  );
}

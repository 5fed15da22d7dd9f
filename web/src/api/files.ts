/** A file as a form sends it. openapi-fetch sends what the serializer makes; the types know a file
 * only as text. */
export function fileBody<Fields extends Record<string, string | boolean>>(
  file: File,
  fields?: Fields,
) {
  const named = { file: file.name, ...fields } as { file: string } & Fields;
  return {
    body: named,
    bodySerializer: () => {
      const form = new FormData();
      form.append("file", file);
      for (const [name, value] of Object.entries(fields ?? {})) form.append(name, String(value));
      return form;
    },
  };
}

/** Lessons, and one with what a class has of what it names. */
import { queryOptions } from "@tanstack/react-query";
import { api, unwrap } from "./client";
import { keys } from "./keys";

export const lessonsQuery = queryOptions({
  queryKey: keys.lessons,
  queryFn: () => unwrap(api.GET("/api/lessons")),
});

export const lessonQuery = (lessonId: number, classId: number | null) =>
  queryOptions({
    queryKey: keys.lesson(lessonId, classId),
    queryFn: () =>
      unwrap(
        api.GET("/api/lessons/{lesson_id}", {
          params: {
            path: { lesson_id: lessonId },
            query: classId === null ? {} : { class_id: classId },
          },
        }),
      ),
  });

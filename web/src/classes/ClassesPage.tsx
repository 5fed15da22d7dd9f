/** The instructor's classes, and making one. */
import { useMutation, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { Button, Form, Input } from "antd";
import { useEffect } from "react";
import { Link, useNavigate } from "react-router";
import { api, unwrap } from "../api/client";
import { classesQuery } from "../api/queries";
import { Empty, sentence } from "../app/feedback";
import { usePerson } from "../app/session";
import { Toolkit } from "../app/Toolkit";
import { BringClass } from "./BringClass";
import "./classes.css";

export default function ClassesPage() {
  const person = usePerson();
  const { data: classes } = useSuspenseQuery(classesQuery);
  useEffect(() => {
    document.title = "Classes · Edrix";
  }, []);
  const taught = classes.filter((row) => row.role === "instructor");
  return (
    <Toolkit>
      <div className="classes">
        <div className="place-head">
          <h1>Classes</h1>
        </div>
        {person.may_teach && <NewClass />}
        {taught.length === 0 && (
          <Empty title="No class yet">Name one above; then add its students and stands.</Empty>
        )}
        <ul className="class-list">
          {taught.map((row) => (
            <li key={row.id}>
              <Link className="card class-row" to={`/classes/${row.id}`}>
                <b>{row.name}</b>
                <span className="soft">
                  {row.students} {row.students === 1 ? "student" : "students"}
                </span>
              </Link>
            </li>
          ))}
        </ul>
        {person.may_teach && <BringClass />}
      </div>
    </Toolkit>
  );
}

function NewClass() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const create = useMutation({
    mutationFn: (body: { name: string }) => unwrap(api.POST("/api/classes", { body })),
    onSuccess: (made) => {
      queries.invalidateQueries(classesQuery);
      navigate(`/classes/${made.id}`);
    },
  });
  return (
    <Form layout="inline" className="new-class" onFinish={(body) => create.mutate(body)}>
      <Form.Item
        name="name"
        label="New class"
        rules={[{ required: true, whitespace: true, message: "Give the class a name" }]}
        {...(create.isError ? { help: sentence(create.error), validateStatus: "error" } : {})}
      >
        <Input maxLength={120} placeholder="Pump crew, autumn intake" />
      </Form.Item>
      <Button type="primary" htmlType="submit" loading={create.isPending}>
        Make class
      </Button>
    </Form>
  );
}

/** The instructor's classes: the list first, making one or bringing one in when asked for. */
import { useMutation, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { Button, Empty, Form, Input, Modal } from "antd";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { classesQuery } from "../api/queries";
import { usePerson } from "../app/session";
import { DataTable } from "../kit/DataTable";
import { Desk } from "../kit/Desk";
import { PanelWays } from "../kit/Panel";
import { Problem } from "../kit/Problem";
import { BringClass } from "./BringClass";
import "./classes.css";

type Row = Schemas["ClassRow"];

export default function ClassesPage() {
  const person = usePerson();
  const { data: classes } = useSuspenseQuery(classesQuery);
  const taught = classes.filter((row) => row.role === "instructor");
  return (
    <Desk
      title="Classes"
      ways={
        person.may_teach && (
          <>
            <BringClass />
            <NewClass />
          </>
        )
      }
    >
      <DataTable
        label="Classes"
        rows={taught}
        keyOf={(row) => row.id}
        empty={<Empty description="No class yet. Make one; then add its students and stands." />}
        columns={[
          {
            title: "Class",
            show: (row: Row) => <Link to={`/classes/${row.id}`}>{row.name}</Link>,
            sort: (row) => row.name,
            find: (row) => row.name,
          },
          { title: "Students", right: true, show: (row) => row.students, sort: (r) => r.students },
        ]}
      />
    </Desk>
  );
}

function NewClass() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [open, setOpen] = useState(false);
  const create = useMutation({
    mutationFn: (body: { name: string }) => unwrap(api.POST("/api/classes", { body })),
    onSuccess: (made) => {
      queries.invalidateQueries({ queryKey: keys.classes });
      navigate(`/classes/${made.id}`);
    },
  });
  return (
    <>
      <Button type="primary" onClick={() => setOpen(true)}>
        New class
      </Button>
      <Modal
        open={open}
        title="New class"
        footer={null}
        onCancel={() => setOpen(false)}
        destroyOnHidden
      >
        <Form
          layout="vertical"
          className="panel-form"
          onFinish={(body: { name: string }) => create.mutate(body)}
        >
          <Form.Item
            name="name"
            label="Name"
            rules={[{ required: true, whitespace: true, message: "Give the class a name" }]}
          >
            <Input maxLength={120} placeholder="Pump crew, autumn intake" autoFocus />
          </Form.Item>
          <Problem error={create.error} />
          <PanelWays does="Make class" pending={create.isPending} onClose={() => setOpen(false)} />
        </Form>
      </Modal>
    </>
  );
}

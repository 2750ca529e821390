'use client';

import { Button, Input, Popconfirm, Progress } from 'antd';
import Link from 'next/link';
import { useState, type DragEvent } from 'react';
import type { DeskProject } from '@/server/shots/desk';
import { api } from '../api';
import { figure, moment, signed } from '../numbers';

/** A picture on its way into a project. */
export interface Incoming {
  readonly key: number;
  readonly name: string;
  readonly projectId: string;
  readonly share: number;
  readonly problem?: string;
  stop(): void;
}

interface RowProps {
  readonly project: DeskProject;
  readonly incoming: readonly Incoming[];
  onFiles(files: File[]): void;
  attempt(work: () => Promise<unknown>): Promise<void>;
}

/** A project on the desk: its shots as pictures, and what is on its way in. */
export function ProjectRow({ project, incoming, onFiles, attempt }: RowProps) {
  const [over, setOver] = useState(false);
  const [renaming, setRenaming] = useState<string | undefined>();
  const drop = (e: DragEvent): void => {
    e.preventDefault();
    setOver(false);
    const files = [...e.dataTransfer.files];
    if (files.length > 0) onFiles(files);
  };
  const rename = (): void => {
    const name = (renaming ?? '').trim();
    setRenaming(undefined);
    if (name !== '' && name !== project.name) void attempt(() => api.changeProject(project.id, { name }));
  };
  return (
    <section
      className={`ct-project${over ? ' over' : ''}`}
      aria-label={project.name}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => {
        setOver(false);
      }}
      onDrop={drop}
    >
      <header>
        {renaming === undefined ? (
          <h2
            onDoubleClick={() => {
              setRenaming(project.name);
            }}
            title="Double click to rename"
          >
            {project.name}
          </h2>
        ) : (
          <Input
            autoFocus
            value={renaming}
            maxLength={120}
            aria-label="New name of the project"
            onChange={(e) => {
              setRenaming(e.target.value);
            }}
            onBlur={rename}
            onPressEnter={rename}
          />
        )}
        <span className="ct-quiet">
          {project.shots.length} {project.shots.length === 1 ? 'shot' : 'shots'}
        </span>
        <span className="ct-project-acts">
          <Button
            type="link"
            size="small"
            onClick={() => {
              setRenaming(project.name);
            }}
          >
            Rename
          </Button>
          <Popconfirm
            title="Put this project away?"
            description="Nothing is removed; it can be brought back at the left."
            okText="Put away"
            cancelText="Keep"
            onConfirm={() => attempt(() => api.changeProject(project.id, { putAway: true }))}
          >
            <Button type="link" size="small">
              Put away
            </Button>
          </Popconfirm>
        </span>
      </header>
      <div className="ct-rail" aria-hidden />
      <div className="ct-hang">
        {project.shots.map((shot) => (
          <article key={shot.id} className="ct-shot">
            <i className="ct-pin" aria-hidden />
            <Link href={`/shots/${shot.id}`} prefetch={false} aria-label={`Open ${shot.name}`}>
              <img src={thumb(shot)} alt="" width="230" height="136" />
              <b>{shot.name}</b>
            </Link>
            <time dateTime={shot.changedAt} suppressHydrationWarning>
              {moment(shot.changedAt)}
            </time>
            <span>
              {figure(shot.width)} × {figure(shot.height)} px,{' '}
              {shot.frames === null
                ? `${signed(shot.nearPx)} / ${signed(shot.farPx)} px`
                : `${figure(shot.frames)} frames`}
            </span>
            <footer>
              <span>
                {shot.renders === 0
                  ? 'nothing rendered yet'
                  : `${shot.renders} ${shot.renders === 1 ? 'render' : 'renders'}`}
              </span>
              <Popconfirm
                title="Put this shot away?"
                description="Nothing is removed; it can be brought back at the left."
                okText="Put away"
                cancelText="Keep"
                onConfirm={() => attempt(() => api.changeShot(shot.id, { putAway: true }))}
              >
                <Button type="link" size="small">
                  Put away
                </Button>
              </Popconfirm>
            </footer>
          </article>
        ))}
        {incoming.map((i) => (
          <article key={i.key} className={`ct-shot ct-incoming${i.problem ? ' ct-refused' : ''}`} aria-live="polite">
            {i.problem ? (
              <>
                <b>{i.name}</b>
                <p role="alert" className="ct-warn">
                  {i.problem}
                </p>
                <Button
                  size="small"
                  onClick={() => {
                    i.stop();
                  }}
                >
                  Understood
                </Button>
              </>
            ) : (
              <>
                <b>{i.name}</b>
                <Progress percent={Math.round(i.share * 100)} size="small" aria-label={`Sending ${i.name}`} />
                <span>{i.share < 1 ? 'on its way' : 'being unpacked and stored'}</span>
                <Button
                  size="small"
                  onClick={() => {
                    i.stop();
                  }}
                >
                  Stop
                </Button>
              </>
            )}
          </article>
        ))}
        <div className="ct-drop">
          <span>Drop a picture or a film here</span>
          <small>it becomes a shot of {project.name}</small>
        </div>
      </div>
    </section>
  );
}

/** The card's picture: the middle of the source in the card's proportions, at most twice its size. */
function thumb(shot: DeskProject['shots'][number]): string {
  const ratio = 230 / 136;
  const w = Math.max(1, Math.min(shot.width, Math.round(shot.height * ratio)));
  const h = Math.max(1, Math.min(shot.height, Math.round(shot.width / ratio)));
  const left = Math.floor((shot.width - w) / 2);
  const top = Math.floor((shot.height - h) / 2);
  return `/api/shots/${shot.id}/picture?media=${shot.mediaId}&left=${left}&top=${top}&right=${left + w}&bottom=${top + h}&width=${Math.min(w, 460)}&height=${Math.max(1, Math.min(h, Math.round((Math.min(w, 460) * h) / w)))}`;
}

'use client';

import { App, Button, Input, Popconfirm, Progress, Upload } from 'antd';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useCallback, useEffect, useRef, useState, type DragEvent } from 'react';
import type { Desk as DeskContent, DeskProject } from '@/server/shots/desk';
import { api, Refusal } from '../api';
import { figure, moment, signed } from '../numbers';
import { Mark } from '../parts/Mark';
import { Working } from '../parts/Working';
import './desk.css';

const ACCEPT = '.png,.jpg,.jpeg,.webp,.avif,.tif,.tiff';

interface Incoming {
  readonly key: number;
  readonly name: string;
  readonly projectId: string;
  readonly share: number;
  readonly problem?: string;
  stop(): void;
}

/** The first page: projects with their shots as pictures, and new pictures brought in by button or drop. */
export function Desk({ desk }: { desk: DeskContent }) {
  const router = useRouter();
  const { message } = App.useApp();
  const [opened, setOpened] = useState('begin');
  const [incoming, setIncoming] = useState<Incoming[]>([]);
  const [target, setTarget] = useState<string | undefined>();
  const next = useRef(0);
  const project = desk.projects.find((p) => p.id === target) ?? desk.projects[0];
  const shots = desk.projects.reduce((n, p) => n + p.shots.length, 0);

  const attempt = useCallback(
    async (work: () => Promise<unknown>): Promise<void> => {
      try {
        await work();
        router.refresh();
      } catch (error) {
        void message.error((error as Error).message);
      }
    },
    [message, router],
  );

  const bringIn = useCallback(
    async (files: readonly File[], projectId: string): Promise<void> => {
      for (const file of files) {
        const key = next.current++;
        const stopper = new AbortController();
        const change = (part: Partial<Incoming>): void => {
          setIncoming((all) => all.map((i) => (i.key === key ? { ...i, ...part } : i)));
        };
        const drop = (): void => {
          setIncoming((all) => all.filter((i) => i.key !== key));
        };
        setIncoming((all) => [
          ...all,
          {
            key,
            name: file.name,
            projectId,
            share: 0,
            stop: () => {
              stopper.abort();
              drop();
            },
          },
        ]);
        try {
          const { id } = await api.bringIn(
            projectId,
            file,
            (share) => {
              change({ share });
            },
            stopper.signal,
          );
          drop();
          if (files.length === 1) router.push(`/shots/${id}`);
          else router.refresh();
        } catch (error) {
          if (!(error instanceof Refusal && error.code === 'stopped'))
            change({ problem: (error as Error).message, stop: drop });
        }
      }
    },
    [router],
  );

  // A picture that misses its place must not replace the page.
  useEffect(() => {
    const keep = (e: globalThis.DragEvent): void => {
      e.preventDefault();
    };
    window.addEventListener('dragover', keep);
    window.addEventListener('drop', keep);
    return () => {
      window.removeEventListener('dragover', keep);
      window.removeEventListener('drop', keep);
    };
  }, []);

  return (
    <div className="ct-desk">
      <header className="ct-top">
        <span className="ct-home">
          <Mark />
          <span>
            <b>Cork Twin</b>
            <small>the desk</small>
          </span>
        </span>
      </header>
      <aside className="ct-left" aria-label="Ways of working">
        <div className="ct-stage-head">
          <h1>Desk</h1>
          <p>
            <b>
              {desk.projects.length} {desk.projects.length === 1 ? 'project' : 'projects'}
            </b>
            , {shots} {shots === 1 ? 'shot' : 'shots'}.
          </p>
        </div>
        <Working
          name="Begin a shot"
          does="from a picture"
          open={opened === 'begin'}
          onOpen={() => {
            setOpened('begin');
          }}
        >
          {project ? (
            <>
              <p className="ct-hint">
                A picture becomes a shot of <b>{project.name}</b>. The file is kept unchanged.
              </p>
              <Upload
                multiple
                accept={ACCEPT}
                showUploadList={false}
                beforeUpload={(file, all) => {
                  if (file === all[0]) void bringIn(all, project.id);
                  return false;
                }}
              >
                <Button type="primary" block>
                  Choose pictures
                </Button>
              </Upload>
              <p className="ct-hint">PNG, JPEG, WebP, AVIF, TIFF; up to 100 megapixels.</p>
            </>
          ) : (
            <p className="ct-hint">Begin a project first; its shots hang in it.</p>
          )}
        </Working>
        <Working
          name="Begin a project"
          does="a customer’s piece of work"
          open={opened === 'project'}
          onOpen={() => {
            setOpened('project');
          }}
        >
          <NewProject
            onName={(name) =>
              attempt(async () => {
                setTarget((await api.createProject(name)).id);
                setOpened('begin');
              })
            }
          />
        </Working>
        {desk.putAway.length > 0 && (
          <Working
            name="Put away"
            does={`${desk.putAway.length} to bring back`}
            open={opened === 'put-away'}
            onOpen={() => {
              setOpened('put-away');
            }}
          >
            <ul className="ct-put-away">
              {desk.putAway.map((p) => (
                <li key={p.id}>
                  <span>
                    {p.name} <small>{p.kind}</small>
                  </span>
                  <Button
                    size="small"
                    onClick={() =>
                      attempt(() =>
                        (p.kind === 'project' ? api.changeProject : api.changeShot)(p.id, { putAway: false }),
                      )
                    }
                  >
                    Bring back
                  </Button>
                </li>
              ))}
            </ul>
          </Working>
        )}
      </aside>
      <main className="ct-desk-floor">
        {desk.projects.length === 0 && (
          <div className="ct-empty">
            <h2>Nothing hangs here yet</h2>
            <p>Begin a project at the left, then drop a picture on it.</p>
          </div>
        )}
        {desk.projects.map((p) => (
          <ProjectRow
            key={p.id}
            project={p}
            incoming={incoming.filter((i) => i.projectId === p.id)}
            onFiles={(files) => {
              setTarget(p.id);
              void bringIn(files, p.id);
            }}
            attempt={attempt}
          />
        ))}
      </main>
    </div>
  );
}

function NewProject({ onName }: { onName(name: string): Promise<void> }) {
  const [name, setName] = useState('');
  const begin = (): void => {
    if (name.trim() !== '')
      void onName(name.trim()).then(() => {
        setName('');
      });
  };
  return (
    <>
      <Input
        value={name}
        maxLength={120}
        placeholder="Name of the project"
        aria-label="Name of the project"
        onChange={(e) => {
          setName(e.target.value);
        }}
        onPressEnter={begin}
      />
      <Button type="primary" block disabled={name.trim() === ''} onClick={begin}>
        Begin project
      </Button>
    </>
  );
}

interface RowProps {
  readonly project: DeskProject;
  readonly incoming: readonly Incoming[];
  onFiles(files: File[]): void;
  attempt(work: () => Promise<unknown>): Promise<void>;
}

function ProjectRow({ project, incoming, onFiles, attempt }: RowProps) {
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
          {project.shots.length} {project.shots.length === 1 ? 'still' : 'stills'}
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
              {figure(shot.width)} × {figure(shot.height)} px, {signed(shot.nearPx)} / {signed(shot.farPx)} px
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
          <span>Drop a picture here</span>
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

'use client';

import { App, Button, Upload } from 'antd';
import { useRouter } from 'next/navigation';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Desk as DeskContent } from '@/server/shots/desk';
import { api, Refusal } from '../api';
import { Mark } from '../parts/Mark';
import { Working } from '../parts/Working';
import { NewProject } from './NewProject';
import { isSequence, sequenceName, zipOf } from './sequence';
import { ProjectRow, type Incoming } from './ProjectRow';
import './desk.css';

const PICTURES = '.png,.jpg,.jpeg,.webp,.avif,.tif,.tiff';
const ACCEPT = `${PICTURES},.mp4,.m4v,.mov,.webm,.mkv,.avi,.gif,.zip`;

/** Share of the whole that packing pictures together takes. */
const PACKING = 0.3;

/** Asks whether numbered pictures are the frames of one film. */
const oneFilm = (modal: ReturnType<typeof App.useApp>['modal'], count: number): Promise<boolean> =>
  new Promise((done) => {
    modal.confirm({
      title: `${count} numbered pictures`,
      content: 'Their names differ by a number alone. Are they the frames of one film, or stills of their own?',
      okText: 'One film',
      cancelText: `${count} stills`,
      keyboard: false,
      maskClosable: false,
      onOk: () => {
        done(true);
      },
      onCancel: () => {
        done(false);
      },
    });
  });

/** The first page: projects with their shots as pictures, and new pictures brought in by button or drop. */
export function Desk({ desk }: { desk: DeskContent }) {
  const router = useRouter();
  const { message, modal } = App.useApp();
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
    async (given: readonly File[], projectId: string): Promise<void> => {
      const together = isSequence(given) && (await oneFilm(modal, given.length));
      const files = together ? [given[0]] : given;
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
            name: together ? sequenceName(given) : file.name,
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
            together
              ? await zipOf(given, (share) => {
                  change({ share: share * PACKING });
                })
              : file,
            (share) => {
              change({ share: together ? PACKING + share * (1 - PACKING) : share });
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
    [router, modal],
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
          does="from a picture or a film"
          open={opened === 'begin'}
          onOpen={() => {
            setOpened('begin');
          }}
        >
          {project ? (
            <>
              <p className="ct-hint">
                A picture or a film becomes a shot of <b>{project.name}</b>. The file is kept unchanged.
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
                  Choose files
                </Button>
              </Upload>
              <p className="ct-hint">
                PNG, JPEG, WebP, AVIF, TIFF; up to 100 megapixels. MP4, MOV, WebM, MKV, AVI, animated pictures, numbered
                pictures; up to 4K and 60 s.
              </p>
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
            <p>Begin a project at the left, then drop a picture or a film on it.</p>
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

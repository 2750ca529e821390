'use client';

import { AntdRegistry } from '@ant-design/nextjs-registry';
import { App, ConfigProvider } from 'antd';
import type { ReactNode } from 'react';
import { theme } from './theme';

/** Theme and messages for everything. */
export function Providers({ children }: { children: ReactNode }) {
  return (
    <AntdRegistry>
      <ConfigProvider theme={theme} wave={{ disabled: true }}>
        <App message={{ maxCount: 3, duration: 6, top: 60 }}>{children}</App>
      </ConfigProvider>
    </AntdRegistry>
  );
}

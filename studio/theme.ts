import type { ThemeConfig } from 'antd';

/** The room's tokens for Ant Design; what has no token stands beside them as CSS variables in studio/room.css. */
export const theme: ThemeConfig = {
  cssVar: { key: 'cork' },
  token: {
    fontFamily: '"Work Sans Variable", "Work Sans", sans-serif',
    fontSize: 13, fontSizeSM: 12, fontSizeLG: 15, fontSizeHeading3: 20, lineHeight: 20 / 13, fontWeightStrong: 600,
    colorPrimary: '#1D4D39', colorSuccess: '#1D4D39', colorInfo: '#7B4A1A', colorWarning: '#9A3420', colorError: '#9A3420',
    colorLink: '#24211C', colorLinkHover: '#7B4A1A',
    colorText: '#24211C', colorTextSecondary: '#565044', colorTextTertiary: '#565044', colorTextPlaceholder: '#565044', colorTextDisabled: '#857A68',
    colorBgLayout: '#F3F0EA', colorBgContainer: '#FDFCF9', colorBgElevated: '#FDFCF9', colorFillSecondary: '#EAE5DB', colorFillTertiary: '#F3F0EA',
    colorBorder: '#857A68', colorBorderSecondary: '#DAD3C6', colorSplit: '#DAD3C6',
    controlItemBgActive: '#F1E3CF', controlItemBgHover: '#EAE5DB', controlOutline: 'transparent',
    controlHeight: 28, controlHeightSM: 24, controlHeightLG: 32, borderRadius: 4, borderRadiusSM: 3, borderRadiusLG: 6,
    sizeUnit: 4, sizeStep: 4, padding: 12, paddingSM: 8, paddingLG: 16, margin: 12, marginSM: 8,
    boxShadow: '0 2px 6px rgba(36,33,28,.30)', boxShadowSecondary: '0 2px 6px rgba(36,33,28,.30)',
    lineWidthFocus: 2, motionDurationMid: '0.12s', motionDurationSlow: '0.16s',
  },
  components: {
    Button: { primaryShadow: 'none', defaultShadow: 'none', fontWeight: 500, paddingInline: 12, contentFontSize: 12 },
    Slider: { railSize: 2, trackBg: '#BF8A50', trackHoverBg: '#7B4A1A', railBg: '#B5AA97', railHoverBg: '#857A68', handleSize: 12, handleSizeHover: 12, handleColor: '#7B4A1A', handleActiveColor: '#24211C' },
    Segmented: { trackBg: '#F3F0EA', itemSelectedBg: '#F1E3CF', itemSelectedColor: '#24211C', itemColor: '#565044', trackPadding: 0 },
    Switch: { trackHeight: 16, trackMinWidth: 28, handleSize: 12, trackPadding: 2, colorPrimary: '#BF8A50', colorPrimaryHover: '#7B4A1A' },
    InputNumber: { activeShadow: 'none', paddingInline: 8, controlWidth: 84 },
    Input: { activeShadow: 'none' },
    Select: { optionSelectedBg: '#F1E3CF' },
    Progress: { defaultColor: '#BF8A50', remainingColor: '#DAD3C6' },
    Tooltip: { colorBgSpotlight: '#24211C' },
  },
};

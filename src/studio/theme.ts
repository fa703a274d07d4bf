import type { ThemeConfig } from 'antd'

/** Paper and ink: the one place where the component library is dressed. Colours as in studio.css. */
export const theme: ThemeConfig = {
  cssVar: { key: 'sprig' },
  token: {
    colorPrimary: '#54305F',
    colorInfo: '#54305F',
    colorLink: '#54305F',
    colorText: '#23262B',
    colorTextSecondary: '#55585C',
    colorTextPlaceholder: '#6F7073',
    colorBgBase: '#FBF9F4',
    colorBgContainer: '#FFFDF9',
    colorBgElevated: '#FFFDF9',
    colorBorder: '#B9B2A3',
    colorBorderSecondary: '#DED8CB',
    colorError: '#8A3324',
    colorWarning: '#8A5A12',
    colorSuccess: '#54305F',
    borderRadius: 3,
    borderRadiusLG: 3,
    borderRadiusSM: 3,
    fontFamily: "'Atkinson Hyperlegible Next Variable', system-ui, sans-serif",
    fontSize: 14,
    controlHeight: 32,
    boxShadow: 'none',
    boxShadowSecondary: '0 2px 10px rgb(35 38 43 / 14%)',
    // Nothing here moves of itself; and what waits for the end of a movement cannot hang when the browser is busy.
    motion: false,
    wireframe: false,
  },
  components: {
    Button: { primaryShadow: 'none', defaultShadow: 'none', dangerShadow: 'none', fontWeight: 600, defaultBg: 'transparent' },
    Modal: { titleFontSize: 20 },
    Segmented: { trackBg: '#EDE7DA', itemSelectedBg: '#FFFDF9' },
  },
}

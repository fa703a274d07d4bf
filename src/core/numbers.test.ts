import { count, percent, roughPercent, pValueWords, signed } from './numbers'

test.each([
  [count(12345.6), '12,346'],
  [percent(0.0412), '4.1%'],
  [percent(0.004), '0.40%'],
  [percent(0), '0%'],
  [percent(0.0004), '0.04%'],
  [percent(0.123), '12.3%'],
  [percent(0.9999), '100%'],
  [percent(0.2), '20%'],
  [percent(1), '100%'],
  [percent(640.44), '64,044%'],
  [roughPercent(0.128), '13%'],
  [roughPercent(0.004), 'less than 1%'],
  [roughPercent(0), '0%'],
  [signed(0.2), '+20%'],
  [signed(-0.034), '−3.4%'],
  [signed(0), '±0%'],
  [pValueWords(0.03124), '0.031'],
  [pValueWords(1e-9), 'under 0.001'],
])('%s is written %s', (written, expected) => expect(written).toBe(expected))

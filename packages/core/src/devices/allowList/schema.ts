import { array, number, object, string, type InferType } from 'yup';
import {
  address,
  prefixText,
  ports,
  oneOf,
  list,
  record,
  isTextList,
  anyProtocol,
} from '../schema/values.ts';
import { sameKeys } from '../schema/sameKeys.ts';
import type { AllowListSettings, AllowRow, SubnetRow } from './settings.ts';

const subnetRow = object({
  number: number().required(),
  action: oneOf('allow', 'deny').required(),
  protocol: anyProtocol(),
  ports: ports(),
  peers: array(prefixText().required()),
});
const subnetRows = array(subnetRow).required();

const row = object({
  name: string(),
  protocol: anyProtocol(),
  ports: ports(),
  sources: list().required(),
  perhaps: string(),
});

export const schema = object({
  lists: array(
    object({
      name: string().required(),
      rows: array(row).required(),
    }),
  ).required(),
  groups: record(isTextList, '${path} must give a list of addresses for each group'),
  subnetList: object({ in: subnetRows, out: subnetRows }).default(undefined),
  publicAddress: string(),
  insideAddress: address(),
});

sameKeys<InferType<typeof schema>, Omit<AllowListSettings, 'kind'>>(true);
sameKeys<InferType<typeof row>, AllowRow>(true);
sameKeys<InferType<typeof subnetRow>, SubnetRow>(true);

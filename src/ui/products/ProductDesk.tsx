import { useEffect, useMemo, useState } from "react";
import type { ProductRow } from "../../core/offers";
import type { Media } from "../../core/pages";
import { useReady } from "../kit/data/useReady";
import { EmptyState } from "../kit/EmptyState";
import { DataTable } from "../kit/table/DataTable";
import { keepInAddress } from "../kit/table/address";
import { productColumns } from "./productColumns";
import { ProductPane } from "./ProductPane";
import styles from "./products.module.css";

interface Props {
  products: ProductRow[];
  media: Media[];
  mayWrite: boolean;
  at?: string;
}

/** All that the vendor sells: what each product is, what it costs, where it stands, and what came of it. */
export const ProductDesk = ({ products: first, media: uploads, mayWrite, at }: Props) => {
  const ready = useReady();
  const [products, setProducts] = useState(first);
  const [selected, setSelected] = useState(at ?? first[0]?.id);
  const [media, setMedia] = useState(uploads);
  useEffect(() => {
    if (selected) keepInAddress("at", selected);
  }, [selected]);
  const columns = useMemo(() => productColumns(selected, setSelected), [selected]);
  if (products.length === 0)
    return (
      <EmptyState title="Products will stand here" says="A launch begins with its main product; bumps and offers make theirs where they are laid." />
    );
  const product = products.find(({ id }) => id === selected);
  return (
    <div inert={!ready} className={styles.desk}>
      <div style={{ minWidth: 0 }}>
        <DataTable name="Products" of={["product", "products"]} rows={products} rowKey={({ id }) => id} columns={columns} empty={null} findFrom={2} />
      </div>
      {product && (
        <ProductPane
          key={product.id}
          product={product}
          others={products.filter(({ id, kind }) => id !== product.id && kind !== "bundle")}
          mayWrite={mayWrite}
          media={media}
          onMedia={(one) => setMedia((all) => [one, ...all.filter(({ id }) => id !== one.id)])}
          onSaved={(saved) => setProducts((all) => all.map((one) => (one.id === saved.id ? saved : one)))}
        />
      )}
    </div>
  );
};

import { real, reals } from './test-file';

/** Boundary representations for tests. */

/** A cube as IfcFacetedBrep from its lower corner; uses 32 lines from `id`. */
export function cube(id: number, [x, y, z]: [number, number, number], side: number): string {
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].map((i) => [
    x + (i & 1 ? side : 0),
    y + (i & 2 ? side : 0),
    z + (i & 4 ? side : 0),
  ]);
  const faces = [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ];
  const point = (i: number) => `#${id + 2 + i}`;
  const face = (i: number) => id + 10 + i * 3;
  return `#${id}=IFCFACETEDBREP(#${id + 1});
#${id + 1}=IFCCLOSEDSHELL((${faces.map((_, i) => `#${face(i)}`).join()}));
${corners.map((corner, i) => `${point(i)}=IFCCARTESIANPOINT(${reals(...corner)});`).join('\n')}
${faces
  .map(
    (ring, i) => `#${face(i)}=IFCFACE((#${face(i) + 1}));
#${face(i) + 1}=IFCFACEOUTERBOUND(#${face(i) + 2},.T.);
#${face(i) + 2}=IFCPOLYLOOP((${ring.map(point).join()}));`,
  )
  .join('\n')}
`;
}

/** A cylinder as IfcAdvancedBrep: two planes and a cylindrical surface between two circles. */
export function drum(id: number, radius: number, height: number): string {
  const n = (offset: number) => `#${id + offset}`;
  return `${n(0)}=IFCADVANCEDBREP(${n(1)});
${n(1)}=IFCCLOSEDSHELL((${n(30)},${n(40)},${n(50)}));
${n(2)}=IFCCARTESIANPOINT(${reals(radius, 0, 0)});
${n(3)}=IFCCARTESIANPOINT(${reals(radius, 0, height)});
${n(4)}=IFCVERTEXPOINT(${n(2)});
${n(5)}=IFCVERTEXPOINT(${n(3)});
${n(6)}=IFCCARTESIANPOINT(${reals(0, 0, height)});
${n(7)}=IFCDIRECTION((0.,0.,1.));
${n(8)}=IFCDIRECTION((1.,0.,0.));
${n(9)}=IFCAXIS2PLACEMENT3D(#23,${n(7)},${n(8)});
${n(10)}=IFCAXIS2PLACEMENT3D(${n(6)},${n(7)},${n(8)});
${n(11)}=IFCCIRCLE(${n(9)},${real(radius)});
${n(12)}=IFCCIRCLE(${n(10)},${real(radius)});
${n(13)}=IFCEDGECURVE(${n(4)},${n(4)},${n(11)},.T.);
${n(14)}=IFCEDGECURVE(${n(5)},${n(5)},${n(12)},.T.);
${n(15)}=IFCVECTOR(${n(7)},1.);
${n(16)}=IFCLINE(${n(2)},${n(15)});
${n(17)}=IFCEDGECURVE(${n(4)},${n(5)},${n(16)},.T.);
${n(30)}=IFCADVANCEDFACE((${n(31)}),${n(33)},.F.);
${n(31)}=IFCFACEOUTERBOUND(${n(32)},.T.);
${n(32)}=IFCEDGELOOP((${n(34)}));
${n(33)}=IFCPLANE(${n(9)});
${n(34)}=IFCORIENTEDEDGE(*,*,${n(13)},.F.);
${n(40)}=IFCADVANCEDFACE((${n(41)}),${n(43)},.T.);
${n(41)}=IFCFACEOUTERBOUND(${n(42)},.T.);
${n(42)}=IFCEDGELOOP((${n(44)}));
${n(43)}=IFCPLANE(${n(10)});
${n(44)}=IFCORIENTEDEDGE(*,*,${n(14)},.T.);
${n(50)}=IFCADVANCEDFACE((${n(51)}),${n(53)},.T.);
${n(51)}=IFCFACEOUTERBOUND(${n(52)},.T.);
${n(52)}=IFCEDGELOOP((${n(54)},${n(55)},${n(56)},${n(57)}));
${n(53)}=IFCCYLINDRICALSURFACE(${n(9)},${real(radius)});
${n(54)}=IFCORIENTEDEDGE(*,*,${n(13)},.T.);
${n(55)}=IFCORIENTEDEDGE(*,*,${n(17)},.T.);
${n(56)}=IFCORIENTEDEDGE(*,*,${n(14)},.F.);
${n(57)}=IFCORIENTEDEDGE(*,*,${n(17)},.F.);
`;
}

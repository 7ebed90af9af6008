#include "textflag.h"

// FITS gives, for each of 16 bytes, the groups that it fits into by both of its halves. V16 masks the lower ones.
#define FITS(bytes, lower, upper, groups) \
	VAND V16.B16, bytes, V4.B16    \
	VUSHR $4, bytes, V5.B16        \
	VTBL V4.B16, [lower], V4.B16   \
	VTBL V5.B16, [upper], V5.B16   \
	VAND V4.B16, V5.B16, groups

// func lastFour(src *byte, n int, of *halves) int
//
// 16 places at a time, from the end; otherwise as on amd64.
TEXT ·lastFour(SB), NOSPLIT, $0-32
	MOVD src+0(FP), R0
	MOVD n+8(FP), R1
	MOVD of+16(FP), R2
	VLD1.P 64(R2), [V8.B16, V9.B16, V10.B16, V11.B16]
	VLD1 (R2), [V12.B16, V13.B16, V14.B16, V15.B16]
	VMOVI $15, V16.B16
	SUB $19, R1

places:
	ADD R0, R1, R3
	VLD1 (R3), [V0.B16]
	ADD $1, R3
	VLD1 (R3), [V1.B16]
	ADD $1, R3
	VLD1 (R3), [V2.B16]
	ADD $1, R3
	VLD1 (R3), [V3.B16]

	FITS(V0.B16, V8.B16, V9.B16, V17.B16)
	FITS(V1.B16, V10.B16, V11.B16, V18.B16)
	FITS(V2.B16, V12.B16, V13.B16, V19.B16)
	FITS(V3.B16, V14.B16, V15.B16, V20.B16)
	VAND V17.B16, V18.B16, V17.B16
	VAND V19.B16, V20.B16, V19.B16
	VAND V17.B16, V19.B16, V17.B16

	VMOV V17.D[0], R4
	VMOV V17.D[1], R5
	CBNZ R5, upper
	CBNZ R4, lower
	CBZ R1, none
	SUBS $16, R1
	BGE places
	MOVD $0, R1
	B places

upper:
	MOVD R5, R4
	ADD $8, R1

lower:
	CLZ R4, R4
	LSR $3, R4
	MOVD $7, R5
	SUB R4, R5
	ADD R1, R5
	MOVD R5, ret+24(FP)
	RET

none:
	MOVD $-1, R0
	MOVD R0, ret+24(FP)
	RET

#include "textflag.h"

// FITS gives, for each of 32 bytes from a place on, the groups that it fits into by both of its halves. Y0 masks the lower ones.
#define FITS(letter, lower, upper, groups) \
	VMOVDQU letter(SI)(CX*1), Y1 \
	VPSRLW $4, Y1, Y2            \
	VPAND Y0, Y1, Y1             \
	VPAND Y0, Y2, Y2             \
	VPSHUFB Y1, lower, Y1        \
	VPSHUFB Y2, upper, Y2        \
	VPAND Y1, Y2, groups

// func lastFour(src *byte, n int, of *halves) int
//
// 32 places at a time, from the end. The nibbles of a byte choose, from the tables for where it stands among the four, the
// groups that it fits into; a place counts if its four bytes have a group in common.
TEXT ·lastFour(SB), NOSPLIT, $0-32
	MOVQ src+0(FP), SI
	MOVQ n+8(FP), CX
	MOVQ of+16(FP), DX
	VBROADCASTI128 (DX), Y8
	VBROADCASTI128 16(DX), Y9
	VBROADCASTI128 32(DX), Y10
	VBROADCASTI128 48(DX), Y11
	VBROADCASTI128 64(DX), Y12
	VBROADCASTI128 80(DX), Y13
	VBROADCASTI128 96(DX), Y14
	VBROADCASTI128 112(DX), Y15
	MOVL $15, AX
	VMOVD AX, X0
	VPBROADCASTB X0, Y0
	VPXOR Y7, Y7, Y7
	SUBQ $35, CX

places:
	FITS(0, Y8, Y9, Y5)
	FITS(1, Y10, Y11, Y3)
	VPAND Y3, Y5, Y5
	FITS(2, Y12, Y13, Y3)
	VPAND Y3, Y5, Y5
	FITS(3, Y14, Y15, Y3)
	VPTEST Y3, Y5
	JNZ some

	TESTQ CX, CX
	JZ none
	SUBQ $32, CX
	JGE places
	XORQ CX, CX
	JMP places

some:
	VPAND Y3, Y5, Y5
	VPCMPEQB Y5, Y7, Y5
	VPMOVMSKB Y5, AX
	NOTL AX
	BSRL AX, AX
	ADDQ CX, AX
	MOVQ AX, ret+24(FP)
	VZEROUPPER
	RET

none:
	MOVQ $-1, ret+24(FP)
	VZEROUPPER
	RET

// func lastBlock(src *byte, n int, a, b byte) (at int, mask uint32)
TEXT ·lastBlock(SB), NOSPLIT, $0-36
	MOVQ src+0(FP), SI
	MOVQ n+8(FP), CX
	VPBROADCASTB a+16(FP), Y0
	VPBROADCASTB b+17(FP), Y1

blocks:
	SUBQ $32, CX
	JLT nowhere
	VMOVDQU (SI)(CX*1), Y2
	VPCMPEQB Y2, Y0, Y3
	VPCMPEQB Y2, Y1, Y4
	VPOR Y3, Y4, Y3
	VPMOVMSKB Y3, AX
	TESTL AX, AX
	JZ blocks
	MOVQ CX, at+24(FP)
	MOVL AX, mask+32(FP)
	VZEROUPPER
	RET

nowhere:
	MOVQ $-1, at+24(FP)
	MOVL $0, mask+32(FP)
	VZEROUPPER
	RET

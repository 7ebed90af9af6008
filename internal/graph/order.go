package graph

import "slices"

// Components gives the strongly connected components of a graph of n nodes, each sorted, in the order of dependency: a
// component comes after all that it leads to. It is Tarjan's algorithm without recursion, so depth costs no stack.
func Components(n int, next func(node int) []int) [][]int {
	const unseen = -1
	index := make([]int, n)
	low := make([]int, n)
	onStack := make([]bool, n)
	for i := range index {
		index[i] = unseen
	}
	type call struct {
		node int
		next []int
	}
	out, all := make([][]int, 0, n), make([]int, 0, n) // all holds the members of all components
	var stack []int
	var calls []call
	count := 0
	enter := func(node int) {
		index[node], low[node] = count, count
		count++
		stack = append(stack, node)
		onStack[node] = true
		calls = append(calls, call{node, next(node)})
	}
	for root := range n {
		if index[root] != unseen {
			continue
		}
		enter(root)
		for len(calls) > 0 {
			c := &calls[len(calls)-1]
			if len(c.next) > 0 {
				to := c.next[0]
				c.next = c.next[1:]
				if index[to] == unseen {
					enter(to)
				} else if onStack[to] {
					low[c.node] = min(low[c.node], index[to])
				}
				continue
			}
			node := c.node
			calls = calls[:len(calls)-1]
			if len(calls) > 0 {
				parent := calls[len(calls)-1].node
				low[parent] = min(low[parent], low[node])
			}
			if low[node] != index[node] {
				continue
			}
			at := len(stack) - 1
			for stack[at] != node {
				at--
			}
			begin := len(all)
			all = append(all, stack[at:]...)
			component := all[begin:len(all):len(all)]
			stack = stack[:at]
			for _, member := range component {
				onStack[member] = false
			}
			slices.Sort(component)
			out = append(out, component)
		}
	}
	return out
}

// Circle gives a shortest way from a node back to itself through nodes of its component, the node first.
func Circle(start int, next [][]int, component []int) []int {
	inside := map[int]bool{}
	for _, node := range component {
		inside[node] = true
	}
	from := map[int]int{}
	queue := []int{start}
	for len(queue) > 0 {
		node := queue[0]
		queue = queue[1:]
		for _, to := range next[node] {
			if to == start {
				way := []int{node}
				for way[len(way)-1] != start {
					way = append(way, from[way[len(way)-1]])
				}
				slices.Reverse(way)
				return way
			}
			if _, seen := from[to]; !seen && inside[to] {
				from[to] = node
				queue = append(queue, to)
			}
		}
	}
	return nil
}

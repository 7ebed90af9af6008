export const Spinner = () => <i class="spinner">turning the dome</i>

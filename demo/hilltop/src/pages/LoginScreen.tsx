import { LoginForm } from '../components/forms/LoginForm'

export const LoginScreen = () => <LoginForm />

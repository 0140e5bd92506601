// The stand-in of the frost update, on Peatfire 4.
import './run';
